<script setup lang="ts">
import type { ExperimentSummary } from '~~/shared/experiments/replies'
import { TrashIcon } from '@heroicons/vue/20/solid'
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
    <template #cell-lift="{ row }">
      <span v-if="row.best" class="flex items-center gap-2">
        <VariantMark :position="row.best.position" />
        <span class="w-18 shrink-0 text-right whitespace-nowrap">{{ formatLift(row.best.lift) }}</span>
        <IntervalTrack
          small
          class="w-40"
          :interval="row.best.interval"
          :estimate="row.best.lift"
          :smallest-lift="row.smallestLift"
          :domain="domain"
        />
      </span>
      <span v-else class="text-ink-soft">–</span>
    </template>
    <template #cell-actions="{ row }">
      <button
        v-if="mayRemove(row)"
        type="button"
        class="rounded p-1 text-ink-soft hover:text-rust"
        :aria-label="`Delete ${row.name}`"
        title="Delete"
        @click="emit('remove', row)"
      >
        <TrashIcon class="size-4" aria-hidden="true" />
      </button>
    </template>
  </DataTable>
</template>
