<script setup lang="ts">
import type { Comparison } from '~~/core/statistics/compareArms'
import type { ExperimentSheet } from '~~/shared/experiment'

type Method = 'sequential' | 'fixed' | 'bayesian'

const props = defineProps<{ comparison: Comparison & { adjustedPValue: number }; position: number; name: string; sheet: ExperimentSheet; controlMean: number; domain: [number, number] }>()
const method = ref<Method>(props.sheet.plan.rule === 'fixed' ? 'fixed' : 'sequential')
const METHODS: { value: Method; label: string }[] = [
  { value: 'sequential', label: 'Sequential' },
  { value: 'fixed', label: 'Fixed' },
  { value: 'bayesian', label: 'Bayesian' },
]
const level = computed(() => formatShare(1 - props.sheet.plan.alpha, 0))
const reading = computed(() => {
  const { comparison } = props
  if (method.value === 'bayesian') return { interval: comparison.posterior.liftInterval, words: `${level.value} credible interval; a flat prior.` }
  if (method.value === 'fixed') return { interval: comparison.lift.interval, words: `${level.value} confidence interval, valid for one look at the planned end.` }
  return { interval: comparison.sequential.lift.interval, words: `${level.value} confidence interval, valid however often you look.` }
})
const why = computed(() => props.comparison.sequential.lift.why ?? props.comparison.lift.why)
const pValue = computed(() => (method.value === 'fixed' ? props.comparison.pValue : props.comparison.sequential.pValue))
const relativeLoss = computed(() => (props.controlMean > 0 ? props.comparison.posterior.expectedLoss / props.controlMean : null))
const formulas = computed(() => {
  const { difference } = props.comparison
  const isMean = props.sheet.metric?.kind === 'mean'
  return [
    { name: 'Difference', value: `${difference.estimate.toPrecision(4)} ± ${difference.standardError.toPrecision(3)} (standard error)`, formula: isMean ? 'm − m₀; √(s²/n + s₀²/n₀)' : 'p − p₀; √(p(1−p)/n + p₀(1−p₀)/n₀)' },
    { name: 'Interval of the lift', value: reading.value.words, formula: method.value === 'bayesian' ? 'quantiles of θ/θ₀ − 1' : 'Fieller (1954) with the quantile of the method' },
    { name: 'p-value', value: `${formatPValue(pValue.value)}; adjusted for all variants by the plan’s rule ${formatPValue(props.comparison.adjustedPValue)} (Holm)`, formula: method.value === 'fixed' ? (isMean ? 'Welch’s t test' : 'two-proportion z test, pooled') : '1/Λ of the normal mixture (Robbins 1970)' },
    { name: 'Probability to be better', value: formatShare(props.comparison.posterior.probabilityBetter, 1), formula: isMean ? 'Φ(δ/√V)' : 'P(θ > θ₀), Beta(1 + conversions, 1 + others)' },
    { name: 'Expected loss', value: props.comparison.posterior.expectedLoss.toPrecision(3), formula: 'E[max(θ₀ − θ, 0)]' },
  ]
})
</script>

<template>
  <div class="flex flex-col gap-2" data-testid="comparison">
    <div class="flex flex-wrap items-center gap-x-3 gap-y-1">
      <VariantMark :position="position" /><h3>{{ name }} against the control</h3>
      <div class="ml-auto flex gap-1 text-sm" role="radiogroup" :aria-label="`Method for ${name}`">
        <button v-for="each in METHODS" :key="each.value" type="button" role="radio" :aria-checked="method === each.value" class="rounded px-2 py-0.5" :class="method === each.value ? 'bg-accent-soft font-medium text-accent' : 'text-ink-soft hover:text-ink'" @click="method = each.value">{{ each.label }}</button>
      </div>
    </div>
    <IntervalTrack :interval="reading.interval" :estimate="comparison.lift.estimate" :smallest-lift="sheet.plan.smallestLift" :domain="domain" :direction="sheet.metric?.direction" />
    <p v-if="!reading.interval" class="text-sm text-ink-soft">{{ why }}</p>
    <dl class="flex flex-wrap gap-x-8 gap-y-1">
      <div><dt class="text-sm text-ink-soft">Lift</dt><dd>{{ formatLift(comparison.lift.estimate) }}</dd></div>
      <div v-if="method !== 'bayesian'"><dt class="text-sm text-ink-soft">p-value</dt><dd>{{ formatPValue(pValue) }}</dd></div>
      <div><dt class="text-sm text-ink-soft">Probability to be better</dt><dd>{{ formatShare(comparison.posterior.probabilityBetter, 1) }}</dd></div>
      <div><dt class="text-sm text-ink-soft">Expected loss</dt><dd>{{ formatShare(relativeLoss) }} <span class="text-ink-soft">of the control</span></dd></div>
    </dl>
    <details class="text-sm">
      <summary class="text-ink-soft">How do you know?</summary>
      <dl class="mt-2 grid gap-x-6 gap-y-1.5 sm:grid-cols-[11rem_1fr]">
        <template v-for="each in formulas" :key="each.name">
          <dt class="font-medium">{{ each.name }}</dt>
          <dd>{{ each.value }} <code class="block font-mono text-xs text-ink-soft">{{ each.formula }}</code></dd>
        </template>
      </dl>
    </details>
  </div>
</template>
