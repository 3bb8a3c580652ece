<script setup lang="ts">
import type { ExperimentResults, MetricResults } from '~~/shared/experiments/resultsReplies'
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import { shortfallInWords } from '~~/core/verdict/verdict'
import { roundMoney } from '~/data/ideaWords'
import { monthlyGain } from '~~/core/verdict/monthlyGain'
import { liftInterval, missingReason, pValueBy, type ReadingMethod } from '~~/core/analysis/readings'

const props = defineProps<{
  sheet: ExperimentSheet
  results: MetricResults
  position: number
  method: ReadingMethod
  domain: [number, number]
  /** Of the primary metric: what its lift is multiplied by for its money in a month. */
  money?: ExperimentResults['money']
  nextLookAt: string | null
}>()
const explain = useNumberExplanations()
const comparison = computed(() => props.results.comparisons[props.position - 1]!)
const interval = computed(() => liftInterval(comparison.value, props.method))
const level = computed(() => formatShare(1 - props.sheet.plan.alpha, 0))
const pValue = computed(() => (props.method === 'bayesian' ? null : pValueBy(comparison.value, props.method)))
const controlMean = computed(() => props.results.arms[0]?.mean ?? 0)
const relativeLoss = computed(() =>
  controlMean.value > 0 && comparison.value.posterior.expectedLoss !== null
    ? comparison.value.posterior.expectedLoss / controlMean.value
    : null,
)
const gain = computed(() => {
  const { arms, metric } = props.results
  if (!props.money) return null
  const scale = { ...props.money, mean: arms[0]?.mean ?? 0, direction: metric.direction }
  return monthlyGain(scale, comparison.value.lift.estimate, interval.value)
})
/** Three digits that count: more are not known. */
const amount = (money: number) => roundMoney(Number(money.toPrecision(3)), props.sheet.currency)
const scaleInWords = computed(() => {
  const { visitorsAMonth, unitValue, from } = props.money!
  const visitors = `${formatCount(Math.round(visitorsAMonth))} visitors a month, as in the run so far`
  if (from === 'metric') return `By ${visitors}.`
  const value = formatAmount(unitValue, props.sheet.currency)
  return `By ${visitors}, and ${value} each, ${from === 'team' ? 'as the team says' : 'as the control’s orders brought'}.`
})
const reduction = computed(() => comparison.value.varianceReduction)
</script>

<template>
  <div class="flex flex-col gap-2" data-testid="comparison">
    <h4 class="flex items-center gap-3">
      <VariantMark :position="position" />{{ sheet.variants[position]?.name }} against the control
    </h4>
    <IntervalTrack
      :interval="interval"
      :estimate="comparison.lift.estimate"
      :smallest-lift="sheet.plan.smallestLift"
      :domain="domain"
      :direction="results.metric.direction"
      :harm-limit="results.metric.limit"
    />
    <p v-if="comparison.shortfall" class="text-sm text-rust" data-testid="shortfall">
      Not enough to read yet. {{ shortfallInWords(comparison.shortfall, sheet.variants[position]?.name) }}
    </p>
    <p v-if="!interval" class="text-sm text-ink-soft">{{ missingReason(comparison, method) }}</p>
    <PlannedLookNote
      v-if="method === 'spending' && comparison.planned !== undefined"
      :look="comparison.planned"
      :next-look-at="nextLookAt"
      :time-zone="sheet.timeZone"
    />
    <dl class="flex flex-wrap gap-x-8 gap-y-1 [&_dt]:text-sm [&_dt]:text-ink-soft">
      <div>
        <dt>{{ level }} interval of the lift</dt>
        <dd>
          <ExplainedNumber :load="explain('interval', results, position, method)">{{
            formatInterval(interval)
          }}</ExplainedNumber>
        </dd>
      </div>
      <div v-if="method !== 'bayesian'">
        <dt>p-value</dt>
        <dd>
          <ExplainedNumber :load="explain('p-value', results, position, method)">{{
            formatPValue(pValue)
          }}</ExplainedNumber>
        </dd>
      </div>
      <template v-else>
        <div>
          <dt>Chance of being better</dt>
          <dd>
            <ExplainedNumber :load="explain('probability-better', results, position)">{{
              formatShare(comparison.posterior.probabilityBetter, 1)
            }}</ExplainedNumber>
          </dd>
        </div>
        <div>
          <dt>Expected loss</dt>
          <dd>
            <ExplainedNumber :load="explain('loss', results, position)">{{
              formatShare(relativeLoss)
            }}</ExplainedNumber>
            <span class="text-ink-soft">of the control</span>
          </dd>
        </div>
      </template>
      <div v-if="gain" data-testid="money">
        <dt>Worth a month</dt>
        <dd>{{ amount(gain.expected) }} ({{ amount(gain.low) }} to {{ amount(gain.high) }})</dd>
      </div>
    </dl>
    <p v-if="gain" class="text-sm text-ink-soft">{{ scaleInWords }}</p>
    <p v-if="comparison.unadjusted" class="text-sm" data-testid="adjustment">
      <span class="text-ink-soft">Adjusted by what visitors did before: </span>
      <ExplainedNumber :load="explain('variance-reduction', results, position)"
        >{{ formatShare(reduction?.shareRemoved ?? null, 1) }} of the variance removed</ExplainedNumber
      >.
      <span class="text-ink-soft"
        >Without it the lift is {{ formatLift(comparison.unadjusted.lift.estimate) }}, p
        {{ formatPValue(comparison.unadjusted.pValue) }} for one look.</span
      >
    </p>
    <p
      v-else-if="reduction && (reduction.why || (reduction.shareRemoved ?? 0) >= 0.01)"
      class="text-sm"
      data-testid="variance-reduction"
    >
      <span class="text-ink-soft">Adjusted for earlier behavior: </span>
      <template v-if="reduction.why">{{ reduction.why }}</template>
      <template v-else
        ><ExplainedNumber :load="explain('variance-reduction', results, position)"
          >{{ formatDifference(results.metric, reduction.difference.estimate, sheet.currency) }}, p
          {{ formatPValue(reduction.pValue) }}</ExplainedNumber
        >
        <span class="text-ink-soft">
          for one look, at the end; {{ formatShare(reduction.shareRemoved, 1) }} of the variance removed.</span
        ></template
      >
    </p>
  </div>
</template>
