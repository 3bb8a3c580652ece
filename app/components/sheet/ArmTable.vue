<script setup lang="ts">
import {
  explainBest,
  explainLift,
  explainMean,
  explainSum,
  explainVisitors,
  type Place,
} from '~/explanations/explanations'
import type { ExperimentSheet, MetricResults } from '~~/shared/experiment'

const props = defineProps<{ sheet: ExperimentSheet; results: MetricResults }>()
const HEADINGS = {
  conversion: { sum: 'Conversions', mean: 'Rate' },
  mean: { sum: 'Sum', mean: 'Mean per visitor' },
  ratio: { sum: 'Numerator', mean: 'Ratio' },
}
const headings = computed(() => HEADINGS[props.results.metric.kind])
const place = (position: number): Place => ({ sheet: props.sheet, results: props.results, position })
</script>

<template>
  <div class="relative overflow-x-auto">
    <table class="w-full border-collapse" data-testid="arms" :aria-label="results.metric.name">
      <thead>
        <tr
          class="border-b border-line-strong text-sm text-ink-soft [&>th]:px-2 [&>th]:pb-1 [&>th]:text-right [&>th]:font-medium"
        >
          <th class="text-left!">Variant</th>
          <th>Visitors</th>
          <th>{{ headings.sum }}</th>
          <th v-if="results.metric.kind === 'ratio'">Denominator</th>
          <th>{{ headings.mean }}</th>
          <th>Lift</th>
          <th>Best of all</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="(arm, position) in results.arms"
          :key="position"
          class="border-b border-line [&>td]:px-2 [&>td]:py-1.5 [&>td]:text-right [&>td]:whitespace-nowrap"
        >
          <td class="text-left!">
            <span class="flex items-center gap-2"
              ><VariantMark :position="position" /> {{ sheet.variants[position]?.name }}</span
            >
          </td>
          <td>
            <ExplainedNumber :explain="() => explainVisitors(place(position))">{{
              formatCount(arm.visitors)
            }}</ExplainedNumber>
          </td>
          <td>
            <ExplainedNumber :explain="() => explainSum(place(position))">{{
              formatSum(results.metric, arm.sum, sheet.currency)
            }}</ExplainedNumber>
          </td>
          <td v-if="results.metric.kind === 'ratio'">
            <ExplainedNumber :explain="() => explainMean(place(position))">{{
              formatCount(arm.denominator)
            }}</ExplainedNumber>
          </td>
          <td>
            <ExplainedNumber :explain="() => explainMean(place(position))">{{
              formatMetric(results.metric, arm.mean, sheet.currency)
            }}</ExplainedNumber>
          </td>
          <td>
            <ExplainedNumber v-if="position > 0" :explain="() => explainLift(place(position))">{{
              formatLift(results.comparisons[position - 1]?.lift.estimate ?? null)
            }}</ExplainedNumber>
          </td>
          <td>
            <ExplainedNumber :explain="() => explainBest(place(position))">{{
              formatShare(results.probabilityBest[position] ?? null, 1)
            }}</ExplainedNumber>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
