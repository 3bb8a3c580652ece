<script setup lang="ts">
import type { ExperimentSummary } from '~~/shared/experiments/replies'
import type { TableColumn } from '~/data/tableColumn'

const props = defineProps<{
  experiments: readonly ExperimentSummary[]
  siteId: number
  timeZone: string
  mayEdit: boolean
}>()
const emit = defineEmits<{ remove: [experiment: ExperimentSummary] }>()
const sort = defineModel<string>('sort', { required: true })

const day = (at: string | null) => (at ? formatDate(at, props.timeZone) : '–')
const COLUMNS: readonly TableColumn<ExperimentSummary>[] = [
  { id: 'name', header: 'Experiment', value: ({ name }) => name, isHeading: true },
  { id: 'state', header: 'State', value: ({ state }) => state },
  {
    id: 'started',
    header: 'Started',
    value: ({ startedAt }) => startedAt,
    show: ({ startedAt }) => day(startedAt),
    isExtra: true,
  },
  {
    id: 'visitors',
    header: 'Visitors',
    value: ({ visitors }) => visitors,
    show: ({ visitors }) => formatCount(visitors),
    isNumeric: true,
  },
  { id: 'lift', header: 'Lift of the best variant', value: ({ best }) => best?.lift ?? null },
  { id: 'verdict', header: 'Verdict', value: ({ verdict }) => verdict?.title ?? null, isUnsorted: true },
  { id: 'actions', header: 'Actions', value: () => null, isDrawing: true },
]
/** One scale for all rows, wide enough for most intervals and no wider than is readable. */
const domain = computed<[number, number]>(() =>
  symmetricDomain(props.experiments.flatMap((each) => each.best?.interval ?? []).map(Math.abs), 0.1),
)
const mayRemove = (each: ExperimentSummary) => props.mayEdit && (each.state === 'draft' || each.state === 'ended')
</script>

<template>
  <DataTable
    v-model:sort="sort"
    label="Experiments"
    :columns="COLUMNS"
    :rows="experiments"
    :row-key="({ id }) => id"
    :export-address="`/api/sites/${siteId}/experiments.csv`"
    is-sorted-elsewhere
  >
    <template #cell-name="{ row }">
      <span class="block max-w-72">
        <NuxtLink :to="`/sites/${siteId}/experiments/${row.id}`" class="font-semibold hover:underline">{{
          row.name
        }}</NuxtLink>
        <span class="block truncate font-mono text-xs text-ink-soft">{{ row.pages || 'no page yet' }}</span>
      </span>
    </template>
    <template #cell-state="{ row }">
      <span>
        <StateBadge :state="row.state" />
        <span v-if="row.startedAt" class="block text-sm whitespace-nowrap text-ink-soft">{{
          runInWords(row, timeZone)
        }}</span>
      </span>
    </template>
    <template #cell-lift="{ row }"><BestLift :summary="row" :domain="domain" has-mark /></template>
    <template #cell-actions="{ row }"
      ><DeleteRowButton v-if="mayRemove(row)" :name="row.name" @remove="emit('remove', row)"
    /></template>
  </DataTable>
</template>
