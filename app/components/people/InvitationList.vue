<script setup lang="ts">
import type { NewInvitation, OpenInvitation } from '~~/shared/accounts/memberReplies'
import type { Role } from '~~/shared/accounts/account'

/** Asks people to join, by a letter and a link, and shows who has not answered. */
const props = defineProps<{ siteId: number; timeZone: string }>()
const api = useApi()
const notices = useNoticesStore()
const {
  items: invitations,
  hasMore,
  problem,
  reload,
  loadMore,
} = usePaged((after) => api('listInvitations', { site: props.siteId, query: { after } }))
const draft = reactive({ email: '', role: 'editor' as Role })
const errors = ref<Record<string, string>>({})
const made = shallowRef<NewInvitation | null>(null)
const isSending = ref(false)
const { copy, copied } = useClipboard({ legacy: true })

async function invite(): Promise<void> {
  errors.value = {}
  isSending.value = true
  try {
    made.value = await api('createInvitation', { site: props.siteId, body: draft })
    draft.email = ''
    await reload()
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    errors.value = error.fields
    if (Object.keys(error.fields).length === 0) notices.show(error.message, { tone: 'problem' })
  } finally {
    isSending.value = false
  }
}
async function revoke({ id, email }: OpenInvitation): Promise<void> {
  try {
    await api('revokeInvitation', { site: props.siteId, invitation: id })
    notices.show(`Revoked the invitation of ${email}. Its link no longer works.`)
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
  }
  made.value = null
  await reload()
}
</script>

<template>
  <div class="flex flex-col gap-4">
    <form class="flex max-w-2xl flex-wrap items-start gap-3" novalidate @submit.prevent="invite">
      <TextField
        v-model="draft.email"
        class="min-w-56 flex-1"
        label="E-mail address"
        type="email"
        placeholder="ines@example.test"
        :error="errors.email"
      />
      <RoleChoice v-model="draft.role" label="Role" class="w-32" />
      <BaseButton type="submit" class="mt-6.5" :disabled="isSending">Invite</BaseButton>
    </form>
    <div v-if="made" class="border-l-4 border-pine py-1 pl-3" role="status">
      <p>
        {{
          made.isSent
            ? `A letter to ${made.email} is on its way. The link in it, should it get lost:`
            : `No letter went out to ${made.email}. Hand over the link yourself:`
        }}
      </p>
      <p class="flex flex-wrap items-center gap-3">
        <code class="font-mono text-xs break-all" data-testid="invitation-link">{{ made.link }}</code><BaseButton
          @click="copy(made.link)"
          >{{ copied ? 'Copied' : 'Copy' }}</BaseButton
        >
      </p>
    </div>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <ul v-else-if="invitations && invitations.length > 0">
      <li
        v-for="each in invitations"
        :key="each.id"
        class="flex flex-wrap items-baseline gap-x-4 border-b border-line py-2"
      >
        <span class="font-medium">{{ each.email }}</span>
        <span class="text-sm text-ink-soft"
          >{{ each.role }}, invited by {{ each.person ?? 'a former member' }}, works until
          {{ formatDate(each.expiresAt, timeZone) }}</span
        >
        <BaseButton
          class="ml-auto"
          kind="quiet"
          :aria-label="`Revoke the invitation of ${each.email}`"
          @click="revoke(each)"
          >Revoke</BaseButton
        >
      </li>
    </ul>
    <BaseButton v-if="hasMore" kind="quiet" @click="loadMore">Show more</BaseButton>
  </div>
</template>
