<script setup lang="ts">
import type { SavedAudienceView } from '~~/shared/audiences/replies'
import { conditionInWords } from '~~/core/targeting/conditionWords'
import type { TableColumn } from '~/data/tableColumn'

useHead({ title: 'Audiences · Vetch' })
const api = useApi()
const account = useAccountStore()
const route = useRoute('sites-site-experiments-audiences')
const siteId = Number(route.params.site)
const site = computed(() => account.site(siteId))
const mayEdit = computed(() => site.value?.role !== 'viewer')
const { value: audiences, problem, reload } = useLoaded(() => api('listAudiences', { site: siteId }))
/** Kept in the address, so that one audience can be shared. */
const chosen = useQueryChoice('audience', () => ['', 'new', ...(audiences.value ?? []).map(({ id }) => String(id))])
const opened = computed(() => audiences.value?.find(({ id }) => String(id) === chosen.value) ?? null)
const names = computed(() => ({
  audiences: Object.fromEntries((audiences.value ?? []).map(({ id, name }) => [id, name])),
}))
async function changed(): Promise<void> {
  await reload()
  chosen.value = ''
}
const columns = computed<TableColumn<SavedAudienceView>[]>(() => [
  { id: 'name', header: 'Audience', value: ({ name }) => name, isHeading: true },
  {
    id: 'who',
    header: 'Visitors',
    isUnsorted: true,
    value: ({ conditions }) => conditionInWords(conditions, names.value),
  },
  { id: 'version', header: 'Version', value: ({ version }) => version, isNumeric: true },
  { id: 'uses', header: 'Used by', value: ({ uses }) => uses.length, isNumeric: true },
  {
    id: 'changed',
    header: 'Changed',
    value: ({ changedAt }: SavedAudienceView) => changedAt,
    show: ({ changedAt }) => formatDate(changedAt, site.value?.timeZone ?? 'UTC'),
  },
])
</script>

<template>
  <div class="max-w-6xl p-6 lg:p-8">
    <ExperimentsHead :site-id="siteId" note="Conditions on visitors under a name">
      <BaseButton v-if="mayEdit" kind="main" @click="chosen = 'new'">New audience</BaseButton>
    </ExperimentsHead>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!audiences" />
    <EmptyNote
      v-else-if="audiences.length === 0"
      text="No saved audiences yet. Save conditions that several experiments ask for, and see how many visitors they fit."
    />
    <DataTable v-else label="Audiences" :columns="columns" :rows="audiences" :row-key="({ id }) => id">
      <template #cell-name="{ row }">
        <button type="button" class="text-left font-medium text-accent underline" @click="chosen = String(row.id)">
          {{ row.name }}
        </button>
      </template>
    </DataTable>
    <AudienceDrawer
      v-if="opened || chosen === 'new'"
      :key="chosen"
      :site-id="siteId"
      :audience="opened"
      :may-edit="mayEdit"
      :time-zone="site?.timeZone ?? 'UTC'"
      @close="chosen = ''"
      @changed="changed"
    />
  </div>
</template>
