<script setup lang="ts">
import type { MetricResults } from '~~/shared/experiments/resultsReplies'
import type { ExperimentSheet } from '~~/shared/experiments/replies'

const props = defineProps<{ sheet: ExperimentSheet; results: MetricResults }>()
const HEADINGS = {
  conversion: { sum: 'Conversions', mean: 'Rate' },
  mean: { sum: 'Sum', mean: 'Mean per visitor' },
  ratio: { sum: 'Numerator', mean: 'Ratio' },
}
const headings = computed(() => HEADINGS[props.results.metric.kind])
const explain = useNumberExplanations()
</script>

<template>
  <div class="relative overflow-x-auto">
    <table
      class="rows-on-phone w-full border-collapse"
      role="table"
      data-testid="arms"
      :aria-label="results.metric.name"
    >
      <thead role="rowgroup">
        <tr
          role="row"
          class="border-b border-line-strong text-sm text-ink-soft [&>th]:px-2 [&>th]:pb-1 [&>th]:text-right [&>th]:font-medium"
        >
          <th role="columnheader" class="text-left!">Variant</th>
          <th role="columnheader">Visitors</th>
          <th role="columnheader">{{ headings.sum }}</th>
          <th v-if="results.metric.kind === 'ratio'" role="columnheader">Denominator</th>
          <th role="columnheader">{{ headings.mean }}</th>
          <th role="columnheader">Lift</th>
          <th role="columnheader">Chance of being best</th>
        </tr>
      </thead>
      <tbody role="rowgroup">
        <tr
          v-for="(arm, position) in results.arms"
          :key="position"
          role="row"
          class="border-b border-line [&>td]:px-2 [&>td]:py-1.5 [&>td]:text-right [&>td]:whitespace-nowrap"
        >
          <td role="cell" class="heading-on-phone text-left!">
            <span class="flex items-center gap-2"
              ><VariantMark :position="position" /> {{ sheet.variants[position]?.name }}</span
            >
          </td>
          <td role="cell" data-label="Visitors">
            <ExplainedNumber :load="explain('visitors', results, position)">{{
              formatCount(arm.visitors)
            }}</ExplainedNumber>
          </td>
          <td role="cell" :data-label="headings.sum">
            <ExplainedNumber :load="explain('sum', results, position)">{{
              formatSum(results.metric, arm.sum, sheet.currency)
            }}</ExplainedNumber>
          </td>
          <td v-if="results.metric.kind === 'ratio'" role="cell" data-label="Denominator">
            <ExplainedNumber :load="explain('mean', results, position)">{{
              formatCount(arm.denominator)
            }}</ExplainedNumber>
          </td>
          <td role="cell" :data-label="headings.mean">
            <ExplainedNumber :load="explain('mean', results, position)">{{
              formatMetric(results.metric, arm.mean, sheet.currency)
            }}</ExplainedNumber>
          </td>
          <td role="cell" data-label="Lift">
            <ExplainedNumber v-if="position > 0" :load="explain('lift', results, position)">{{
              formatLift(results.comparisons[position - 1]?.lift.estimate ?? null)
            }}</ExplainedNumber>
          </td>
          <td role="cell" data-label="Chance of being best">
            <ExplainedNumber :load="explain('best', results, position)">{{
              formatShare(results.probabilityBest[position] ?? null, 1)
            }}</ExplainedNumber>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
