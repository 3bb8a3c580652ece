<script setup lang="ts">
import type { NewTokenView, TokenView } from '~~/shared/sites/replies'
import type { TableColumn } from '~/data/tableColumn'
import { TOKEN_SCOPES, type TokenScope } from '~~/shared/accounts/token'

/** Tokens of programs that act on the site. */
const props = defineProps<{ siteId: number; timeZone: string }>()
const api = useApi()
const notices = useNoticesStore()
const {
  items: tokens,
  hasMore,
  problem,
  reload,
  loadMore,
} = usePaged((after) => api('listTokens', { site: props.siteId, query: { after } }))
const draft = reactive({ name: '', scope: 'read' as TokenScope })
const errors = ref<Record<string, string>>({})
const made = shallowRef<NewTokenView | null>(null)
const { copy, copied } = useClipboard({ legacy: true })
const WORDS: Record<TokenScope, string> = {
  read: 'read',
  edit: 'edit: also change experiments',
  manage: 'manage: everything an owner may',
}

const COLUMNS: readonly TableColumn<TokenView>[] = [
  { id: 'name', header: 'Program', value: ({ name }) => name, isHeading: true },
  { id: 'scope', header: 'May', value: ({ scope }) => scope },
  { id: 'beginning', header: 'Begins with', value: ({ beginning }) => beginning },
  {
    id: 'used',
    header: 'Last used',
    value: ({ usedAt }) => usedAt,
    show: ({ usedAt }) => (usedAt ? formatTime(usedAt, props.timeZone) : 'never'),
  },
  { id: 'actions', header: 'Revoke', value: () => null, isDrawing: true },
]

async function create(): Promise<void> {
  errors.value = {}
  try {
    made.value = await api('createToken', { site: props.siteId, body: draft })
    draft.name = ''
    await reload()
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    errors.value = error.fields
    if (Object.keys(error.fields).length === 0) notices.show(error.message, { tone: 'problem' })
  }
}
async function revoke(id: number, name: string): Promise<void> {
  await api('revokeToken', { site: props.siteId, token: id })
  notices.show(`Revoked the token of ${name}. It no longer works.`)
  await reload()
}
</script>

<template>
  <section aria-labelledby="tokens">
    <h2 id="tokens" class="mb-2">Tokens</h2>
    <p class="mb-3 max-w-[72ch]">
      For programs that call Vetch’s <a class="text-accent underline" href="/api/openapi.json">API</a>. A token is shown
      once.
    </p>
    <div v-if="made" class="mb-3 border-l-4 border-pine py-1 pl-3" role="status">
      <p>The token of {{ made.name }}. Copy it now: it is not shown again.</p>
      <p class="flex items-center gap-3">
        <code class="font-mono text-xs break-all" data-testid="token">{{ made.token }}</code><BaseButton
          @click="copy(made.token)"
          >{{ copied ? 'Copied' : 'Copy' }}</BaseButton
        >
      </p>
    </div>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <p v-else-if="tokens && tokens.length === 0" class="mb-3 text-ink-soft">No program has a token.</p>
    <DataTable
      v-else-if="tokens"
      class="mb-4 max-w-3xl"
      label="Tokens"
      :columns="COLUMNS"
      :rows="tokens"
      :row-key="({ id }) => id"
      is-plain
    >
      <template #cell-beginning="{ row }"
        ><span class="font-mono text-xs">{{ row.beginning }}…</span></template
      >
      <template #cell-actions="{ row }">
        <BaseButton kind="quiet" :aria-label="`Revoke the token of ${row.name}`" @click="revoke(row.id, row.name)"
          >Revoke</BaseButton
        >
      </template>
    </DataTable>
    <BaseButton v-if="hasMore" class="mb-4" kind="quiet" @click="loadMore">Show more</BaseButton>
    <form class="flex max-w-2xl flex-wrap items-start gap-3" novalidate @submit.prevent="create">
      <TextField
        v-model="draft.name"
        class="min-w-48 flex-1"
        label="Program"
        placeholder="Nightly report"
        :error="errors.name"
      />
      <ChoiceField
        v-model="draft.scope"
        label="May"
        :choices="TOKEN_SCOPES.map((value) => ({ value, label: WORDS[value] }))"
      />
      <BaseButton type="submit" class="mt-6.5">Create a token</BaseButton>
    </form>
  </section>
</template>
