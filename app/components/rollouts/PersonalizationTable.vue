<script setup lang="ts">
import type { ExperimentSummary } from '~~/shared/experiments/replies'
import type { TableColumn } from '~/data/tableColumn'

/** Changes that are served to some, with what they do to the metric that they should move. */
const props = defineProps<{
  siteId: number
  personalizations: readonly ExperimentSummary[]
  timeZone: string
  mayEdit: boolean
}>()
const emit = defineEmits<{ remove: [personalization: ExperimentSummary] }>()
const columns: TableColumn<ExperimentSummary>[] = [
  { id: 'name', header: 'Personalization', value: ({ name }) => name, isHeading: true },
  { id: 'pages', header: 'Pages', value: ({ pages }) => pages },
  { id: 'state', header: 'State', value: ({ state }) => state },
  {
    id: 'since',
    header: 'Since',
    value: ({ startedAt }) => startedAt,
    show: ({ startedAt }) => (startedAt ? formatDate(startedAt, props.timeZone) : '–'),
  },
  {
    id: 'visitors',
    header: 'Visitors',
    isNumeric: true,
    value: ({ visitors }) => visitors,
    show: ({ visitors }) => formatCount(visitors),
  },
  { id: 'lift', header: 'Lift over held back', value: ({ best }) => best?.lift ?? null },
  { id: 'actions', header: 'Actions', value: () => null, isDrawing: true },
]
const domain = computed<[number, number]>(() =>
  symmetricDomain(props.personalizations.flatMap(({ best }) => best?.interval ?? []).map(Math.abs), 0.1),
)
const mayRemove = ({ state }: ExperimentSummary) => props.mayEdit && (state === 'draft' || state === 'ended')
</script>

<template>
  <DataTable label="Personalizations" :columns="columns" :rows="personalizations" :row-key="({ id }) => id">
    <template #cell-name="{ row }">
      <NuxtLink :to="`/sites/${siteId}/experiments/${row.id}`" class="text-accent hover:underline">{{
        row.name
      }}</NuxtLink>
    </template>
    <template #cell-state="{ row }"><StateBadge :state="row.state" /></template>
    <template #cell-lift="{ row }"><BestLift :summary="row" :domain="domain" /></template>
    <template #cell-actions="{ row }"
      ><DeleteRowButton v-if="mayRemove(row)" :name="row.name" @remove="emit('remove', row)"
    /></template>
  </DataTable>
</template>
