<script setup lang="ts">
import type { EnvironmentView } from '~~/shared/traffic/replies'
import type { TableColumn } from '~/data/tableColumn'

/** Other places of the site's pages, such as staging: with the same script line, and counted apart. */
const props = defineProps<{ siteId: number; isOwner: boolean }>()
const emit = defineEmits<{ changed: [] }>()
const api = useApi()
const notices = useNoticesStore()
const { value: environments, problem, reload } = useLoaded(() => api('listEnvironments', { site: props.siteId }))
const { errors, isSaving, save } = useSaving()
const draft = reactive({ name: '', address: '' })
const add = () =>
  save(async () => {
    environments.value = await api('createEnvironment', { site: props.siteId, body: { ...draft } })
    Object.assign(draft, { name: '', address: '' })
    emit('changed')
  })
const detach = ({ id, name }: EnvironmentView) =>
  save(async () => {
    environments.value = await api('detachEnvironment', { site: props.siteId, environment: id })
    notices.show(`${name} is a site of its own now.`)
    emit('changed')
  })
const COLUMNS: readonly TableColumn<EnvironmentView>[] = [
  { id: 'name', header: 'Environment', value: ({ name }) => name, isHeading: true },
  { id: 'address', header: 'Origin', value: ({ address }) => address },
  {
    id: 'shown',
    header: 'Shows',
    isNumeric: true,
    value: ({ shown }) => shown.filter(({ share }) => share > 0).length,
  },
  { id: 'actions', header: 'Detach', value: () => null, isDrawing: true },
]
</script>

<template>
  <section aria-labelledby="environments">
    <h2 id="environments" class="mb-2">Environments</h2>
    <p class="mb-3 max-w-[72ch] text-ink-soft">
      Other places of the same pages, such as staging. The same script line works there. An environment shows what you
      choose, drafts too, and counts its visitors apart.
    </p>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <DataTable
      v-else-if="environments?.length"
      is-plain
      label="Environments"
      :columns="COLUMNS"
      :rows="environments"
      :row-key="({ id }) => id"
    >
      <template #cell-actions="{ row }">
        <AskFirst
          v-if="isOwner"
          label="Make it a site of its own"
          :aria-label="`Detach ${row.name}`"
          :title="`Detach ${row.name}?`"
          text="It shows no experiment of this site any more. What was counted there stays."
          @confirm="detach(row)"
        />
      </template>
    </DataTable>
    <form v-if="isOwner" class="mt-3 flex flex-wrap items-start gap-3" novalidate @submit.prevent="add">
      <TextField v-model="draft.name" class="w-40" label="Environment" placeholder="staging" :error="errors.name" />
      <TextField
        v-model="draft.address"
        class="w-80"
        label="Its origin"
        placeholder="https://staging.example.test"
        :error="errors.address"
      />
      <BaseButton class="mt-6" type="submit" :disabled="isSaving">Add it</BaseButton>
    </form>
  </section>
</template>
