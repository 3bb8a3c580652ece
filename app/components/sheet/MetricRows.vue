<script setup lang="ts">
import type { MetricResults } from '~~/shared/experiments/resultsReplies'
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import { liftInterval, pValueBy, type ReadingMethod } from '~~/core/analysis/readings'
import { shortfallInWords } from '~~/core/verdict/verdict'

/** Metrics beside the primary one: a line for each variant, and everything about one of them on demand. */
const props = withDefaults(
  defineProps<{
    title: string
    note: string
    sheet: ExperimentSheet
    metrics: readonly MetricResults[]
    /** Everybody who takes part in the experiment. */
    visitors: number
    method: ReadingMethod
    /** Whether the plan has concluded; of guardrails, which are looked at every day, it is not asked. */
    isConcluded?: boolean
  }>(),
  { isConcluded: undefined },
)
const domain = computed(() => trackDomain(props.metrics, props.sheet.plan.smallestLift))
const opened = ref<string | null>(null)
const explain = useNumberExplanations()
function isHarmed({ metric, comparisons }: MetricResults, position: number): boolean {
  const comparison = comparisons[position - 1]!
  const interval = liftInterval(comparison, 'sequential')
  if (metric.limit === null || !interval || comparison.shortfall) return false
  return metric.direction === 'up' ? interval[1] < -metric.limit : interval[0] > metric.limit
}
</script>

<template>
  <div>
    <h3>
      {{ title }} <span class="text-sm font-normal text-ink-soft">{{ note }}</span>
    </h3>
    <OneLookNote v-if="isConcluded === false" :is-concluded="isConcluded" />
    <div class="relative overflow-x-auto">
      <table
        class="rows-on-phone w-full border-collapse"
        role="table"
        :aria-label="title"
        :data-testid="title.toLowerCase().replace(' ', '-')"
      >
        <thead role="rowgroup">
          <tr
            role="row"
            class="border-b border-line-strong text-sm text-ink-soft [&>th]:px-2 [&>th]:pb-1 [&>th]:text-right [&>th]:font-medium"
          >
            <th role="columnheader" class="text-left!">Variant</th>
            <th role="columnheader">Value</th>
            <th role="columnheader">Lift</th>
            <th role="columnheader" class="w-44 text-left!"><span class="sr-only">Track of the interval</span></th>
            <th role="columnheader">Interval</th>
            <th role="columnheader">{{ method === 'bayesian' ? 'Better' : 'p' }}</th>
          </tr>
        </thead>
        <tbody v-for="results in metrics" :key="results.metric.id" role="rowgroup">
          <tr role="row" class="[&>td]:px-2 [&>td]:pt-2.5 [&>td]:text-right">
            <td role="cell" class="heading-on-phone min-w-56 text-left!">
              <button
                type="button"
                class="text-left font-medium hover:underline"
                :aria-expanded="opened === results.metric.id"
                @click="opened = opened === results.metric.id ? null : results.metric.id"
              >
                <span aria-hidden="true" class="text-ink-soft">{{ opened === results.metric.id ? '▾' : '▸' }}</span>
                {{ results.metric.name }}
              </button>
            </td>
            <td role="cell" data-label="Control" class="whitespace-nowrap">
              <ExplainedNumber :load="explain('mean', results, 0)">{{
                formatMetric(results.metric, results.arms[0]!.mean, sheet.currency)
              }}</ExplainedNumber>
            </td>
            <td role="cell" colspan="4" class="text-left! text-sm text-ink-soft">
              in the control{{ results.metric.direction === 'down' ? '; less is better' : ''
              }}{{
                results.metric.limit === null
                  ? ''
                  : `; at most ${formatPercent(results.metric.limit)} worse is accepted`
              }}
            </td>
          </tr>
          <tr
            v-for="(comparison, index) in results.comparisons"
            :key="index"
            role="row"
            class="border-b border-line [&>td]:px-2 [&>td]:py-1 [&>td]:text-right [&>td]:whitespace-nowrap"
          >
            <td role="cell" class="heading-on-phone pl-6! text-left! max-sm:pl-0!">
              <span class="flex items-center gap-2"
                ><VariantMark :position="index + 1" /> {{ sheet.variants[index + 1]?.name }}</span
              >
              <span v-if="isHarmed(results, index + 1)" class="block text-sm font-semibold text-rust"
                >▼ beyond its limit of {{ formatPercent(results.metric.limit!) }}</span
              >
              <span v-if="comparison.shortfall" class="block max-w-56 text-sm whitespace-normal text-ink-soft">
                Not enough to read yet. {{ shortfallInWords(comparison.shortfall) }}
              </span>
            </td>
            <td role="cell" data-label="Value">
              <ExplainedNumber :load="explain('mean', results, index + 1)">{{
                formatMetric(results.metric, results.arms[index + 1]!.mean, sheet.currency)
              }}</ExplainedNumber>
            </td>
            <td role="cell" data-label="Lift">
              <ExplainedNumber :load="explain('lift', results, index + 1)">{{
                formatLift(comparison.lift.estimate)
              }}</ExplainedNumber>
            </td>
            <td role="cell">
              <IntervalTrack
                small
                :interval="liftInterval(comparison, method)"
                :estimate="comparison.lift.estimate"
                :smallest-lift="sheet.plan.smallestLift"
                :domain="domain"
                :direction="results.metric.direction"
                :harm-limit="results.metric.limit"
              />
            </td>
            <td role="cell" data-label="Interval">
              <ExplainedNumber :load="explain('interval', results, index + 1, method)">{{
                formatInterval(liftInterval(comparison, method))
              }}</ExplainedNumber>
            </td>
            <td role="cell" :data-label="method === 'bayesian' ? 'Better' : 'p'">
              <ExplainedNumber v-if="method === 'bayesian'" :load="explain('probability-better', results, index + 1)">{{
                formatShare(comparison.posterior.probabilityBetter, 1)
              }}</ExplainedNumber>
              <ExplainedNumber v-else :load="explain('p-value', results, index + 1, method)">{{
                formatPValue(pValueBy(comparison, method))
              }}</ExplainedNumber>
              <span
                v-if="method === 'fixed' && comparison.adjustedPValue !== comparison.pValue"
                class="block text-sm text-ink-soft"
                >adjusted {{ formatPValue(comparison.adjustedPValue) }}</span
              >
            </td>
          </tr>
          <tr v-if="opened === results.metric.id" role="row">
            <td role="cell" colspan="6" class="border-b border-line-strong px-2 py-4">
              <MetricPanel :sheet="sheet" :results="results" :visitors="visitors" :method="method" :domain="domain" />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>
