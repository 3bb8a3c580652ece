<script setup lang="ts">
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import type { MetricResults } from '~~/shared/experiments/resultsReplies'
import { rankEffects } from '~~/core/analysis/effects'
import { shortfallInWords } from '~~/core/verdict/verdict'
import type { TableColumn } from '~/data/tableColumn'

/** What a personalization does to every metric of the site: served against held back, what has moved first. */
const props = defineProps<{ sheet: ExperimentSheet; metrics: readonly MetricResults[] }>()
const effects = computed(() =>
  rankEffects(
    props.metrics.flatMap((results) => {
      const [comparison] = results.comparisons
      if (!comparison) return []
      const { pValue, lift } = comparison.sequential
      const { shortfall } = comparison
      return [{ results, pValue, lift: lift.estimate, interval: lift.interval, shortfall, isShort: shortfall !== null }]
    }),
    props.sheet.plan.alpha,
  ),
)
type Effect = (typeof effects.value)[number]
const domain = computed(() => trackDomain(props.metrics, props.sheet.plan.smallestLift))
const meanOf = ({ results }: Effect, arm: number) =>
  formatMetric(results.metric, results.arms[arm]?.mean ?? null, props.sheet.currency)
function inWords({ hasMoved, shortfall, lift, results }: Effect): string {
  if (shortfall) return 'too little to read'
  if (!hasMoved) return 'not shown'
  const isUp = (lift ?? 0) > 0
  return isUp === (results.metric.direction === 'up') ? 'better' : 'worse'
}
const columns: TableColumn<Effect>[] = [
  { id: 'metric', header: 'Metric', value: ({ results }) => results.metric.name, isHeading: true },
  {
    id: 'held-back',
    header: 'Held back',
    isNumeric: true,
    value: ({ results }) => results.arms[0]?.mean ?? null,
    show: (effect) => meanOf(effect, 0),
  },
  {
    id: 'served',
    header: 'Served',
    isNumeric: true,
    value: ({ results }) => results.arms[1]?.mean ?? null,
    show: (effect) => meanOf(effect, 1),
  },
  { id: 'lift', header: 'Lift', isNumeric: true, value: ({ lift }) => lift, show: ({ lift }) => formatLift(lift) },
  { id: 'track', header: 'Track', value: () => null, isDrawing: true },
  {
    id: 'interval',
    header: 'Interval',
    value: ({ interval }) => interval && interval.join(' to '),
    show: ({ interval }) => formatInterval(interval),
  },
  {
    id: 'p',
    header: 'p',
    isNumeric: true,
    value: ({ adjustedPValue }) => adjustedPValue,
    show: ({ adjustedPValue }) => formatPValue(adjustedPValue),
  },
  { id: 'words', header: 'Effect', value: (effect) => inWords(effect) },
]
</script>

<template>
  <div>
    <h3 class="mb-1">
      Effect on all metrics
      <span class="text-sm font-normal text-ink-soft"
        >p is corrected over {{ effects.length }} metrics; intervals hold on any day</span
      >
    </h3>
    <DataTable
      label="Effect on all metrics"
      :columns="columns"
      :rows="effects"
      :row-key="({ results }) => results.metric.id"
    >
      <template #cell-track="{ row }"
        ><span class="block w-20"
          ><IntervalTrack
            small
            :interval="row.interval"
            :estimate="row.lift"
            :smallest-lift="sheet.plan.smallestLift"
            :domain="domain"
            :direction="row.results.metric.direction"
            :harm-limit="row.results.metric.limit" /></span
      ></template>
      <template #cell-words="{ row }"
        ><span
          class="whitespace-nowrap"
          :class="row.hasMoved ? 'font-semibold' : 'text-ink-soft'"
          :title="row.shortfall ? shortfallInWords(row.shortfall) : undefined"
          >{{ inWords(row) }}</span
        ></template
      >
      <template #cell-interval="{ row }"
        ><span class="whitespace-nowrap">{{ formatInterval(row.interval) }}</span></template
      >
    </DataTable>
  </div>
</template>
