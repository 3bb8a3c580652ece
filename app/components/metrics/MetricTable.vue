<script setup lang="ts">
import type { MetricEntry, MetricFiguresView } from '~~/shared/metrics/replies'
import { describeMetric } from '~~/core/measurement/metric'
import type { TableColumn } from '~/data/tableColumn'

/** The metrics of a site, with what they came to. */
const props = defineProps<{ entries: readonly MetricEntry[]; view: MetricFiguresView | null }>()
const emit = defineEmits<{ open: [id: string] }>()
const sort = ref('')
const figuresOf = ({ id }: MetricEntry) => props.view?.figures[id] ?? null
const columns = computed<TableColumn<MetricEntry>[]>(() => [
  { id: 'name', header: 'Metric', value: ({ name }) => name, isHeading: true },
  { id: 'counts', header: 'Counts', value: (entry) => describeMetric(entry).split(';')[0]! },
  {
    id: 'value',
    header: 'In four weeks',
    value: (entry) => figuresOf(entry)?.value ?? null,
    show: (entry) => formatMetric(entry, figuresOf(entry)?.value ?? null, props.view?.currency ?? ''),
    isNumeric: true,
  },
  {
    id: 'converters',
    header: 'Visitors with it',
    value: (entry) => figuresOf(entry)?.converters ?? null,
    show: (entry) => formatCount(figuresOf(entry)?.converters ?? 0),
    isNumeric: true,
  },
  {
    id: 'lift',
    header: 'Detectable lift',
    value: (entry) => figuresOf(entry)?.visibleLift ?? null,
    show: (entry) => formatLift(figuresOf(entry)?.visibleLift ?? null),
    isNumeric: true,
  },
  {
    id: 'used',
    header: 'Used by',
    value: ({ experiments, hypotheses }) => experiments.length + hypotheses.length,
    isNumeric: true,
  },
])
</script>

<template>
  <DataTable v-model:sort="sort" label="Metrics" :columns="columns" :rows="entries" :row-key="({ id }) => id">
    <template #cell-name="{ row }">
      <button type="button" class="text-left font-medium text-accent underline" @click="emit('open', row.id)">
        {{ row.name }}
      </button>
    </template>
  </DataTable>
  <p v-if="view" class="mt-2 max-w-[72ch] text-sm text-ink-soft">
    All visitors from {{ formatDate(view.from, 'UTC') }} to {{ formatDate(view.to, 'UTC') }}. The detectable lift is
    what a test with all of them finds in four weeks, in 80 of 100 runs.
  </p>
</template>
