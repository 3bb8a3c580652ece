<script setup lang="ts">
import type { SegmentReadingView, SegmentView } from '~~/shared/experiments/resultsReplies'
import type { ExperimentSheet, MetricView } from '~~/shared/experiments/replies'
import { intervalColumns } from '~/data/intervalColumns'
import type { TableColumn } from '~/data/tableColumn'

/** One variant against the control within each value of one segment, and whether the values differ. */
const props = defineProps<{
  sheet: ExperimentSheet
  metric: MetricView
  position: number
  segment: SegmentView
  /** By what it is told whether the values differ; Cochran’s Q where left out. */
  test?: string
}>()
const comparison = computed(
  () =>
    props.segment.metrics.find(({ metricVersionId }) => metricVersionId === props.metric.versionId)?.comparisons[
      props.position - 1
    ] ?? null,
)
const readings = computed(() => comparison.value?.readings ?? [])
const domain = computed(() =>
  symmetricDomain(
    readings.value.flatMap(({ lift }) => lift.interval ?? []).map(Math.abs),
    2 * props.sheet.plan.smallestLift,
  ),
)
const value = (mean: number | null) => formatMetric(props.metric, mean, props.sheet.currency)
const columns = computed<TableColumn<SegmentReadingView>[]>(() => [
  {
    id: 'value',
    header: segmentName(props.segment.dimension),
    value: (each) => each.value ?? 'all others',
    isHeading: true,
  },
  {
    id: 'visitors',
    header: 'Visitors',
    value: ({ visitors }) => visitors,
    show: ({ visitors }) => formatCount(visitors),
    isNumeric: true,
  },
  {
    id: 'control',
    header: 'Control',
    value: ({ controlMean }) => controlMean,
    show: ({ controlMean }) => value(controlMean),
    isNumeric: true,
  },
  { id: 'variant', header: 'Variant', value: ({ mean }) => mean, show: ({ mean }) => value(mean), isNumeric: true },
  {
    id: 'lift',
    header: 'Lift',
    value: ({ lift }) => lift.estimate,
    show: ({ lift }) => formatLift(lift.estimate),
    isNumeric: true,
  },
  { id: 'track', header: 'Track of the interval', value: () => null, isDrawing: true },
  ...intervalColumns<SegmentReadingView>(({ lift }) => lift.interval, { isExtra: true }),
  {
    id: 'p',
    header: 'p, corrected',
    value: ({ adjustedPValue }) => adjustedPValue,
    show: ({ adjustedPValue }) => formatPValue(adjustedPValue),
    isNumeric: true,
  },
])
const difference = computed(() => {
  const { pValue = null, why } = comparison.value?.heterogeneity ?? {}
  if (pValue === null) return why ?? 'There is nothing to compare yet.'
  return pValue < props.sheet.plan.alpha
    ? `The values differ by more than chance: ${formatPEquals(pValue)}.`
    : `No sign that the values differ: ${formatPEquals(pValue)}.`
})
</script>

<template>
  <div>
    <DataTable
      :label="`${metric.name} by ${segmentName(segment.dimension).toLowerCase()}`"
      :columns="columns"
      :rows="readings"
      :row-key="(each) => JSON.stringify(each.value)"
    >
      <template #cell-track="{ row }">
        <IntervalTrack
          small
          :interval="row.lift.interval"
          :estimate="row.lift.estimate"
          :smallest-lift="sheet.plan.smallestLift"
          :domain="domain"
          :direction="metric.direction"
          :harm-limit="metric.limit"
        />
      </template>
    </DataTable>
    <p class="mt-2 text-sm" data-testid="heterogeneity">
      {{ difference }}
      <span class="text-ink-soft">{{ test ?? 'Cochran’s Q' }} over the values.</span>
    </p>
  </div>
</template>
