<script setup lang="ts">
import { sampleSize, type LookPlan, type PlannedMetric } from '~~/core/statistics/power'

defineProps<{ disabled: boolean }>()
const store = useSheetStore()
const { draft, errors, commit } = useSectionDraft(['plan'], (sheet) => ({ plan: sheet.plan }))
const plan = computed(() => draft.value.plan!)
const kind = computed(() => store.sheet?.metrics[0]?.kind ?? 'conversion')

const RULES = {
  sequential: 'Look whenever you like.',
  fixed: 'One look at the end.',
  'low-risk': 'Also ships when little can be lost.',
}
/** Looks that the sequential plan is computed for; more of them change it by a few percent only. */
const LOOKS = 8
const POWER = 0.8

const plannedMetric = computed<PlannedMetric | null>(() => {
  const { baseline, mean, deviation } = plan.value
  if (kind.value === 'conversion') return { kind: 'conversion', baseline }
  return mean && deviation ? { kind: 'mean', mean, deviation } : null
})
/** Visitors that the smallest worthwhile lift needs by the plan's rule; null while that cannot be said. */
const needed = computed(() => {
  const { smallestLift, alpha, rule } = plan.value
  const weights = store.sheet?.variants.map((variant) => variant.weight) ?? []
  const looks: LookPlan = rule === 'fixed' ? { rule } : { rule: 'sequential', looks: LOOKS }
  if (!plannedMetric.value) return null
  try {
    const total = sampleSize({ metric: plannedMetric.value, alpha, weights, looks }, smallestLift, POWER).reduce(
      (sum, arm) => sum + arm,
      0,
    )
    return Number.isFinite(total) ? total : null
  } catch (error) {
    if (error instanceof RangeError) return null
    throw error
  }
})
function useNeeded(): void {
  if (needed.value) plan.value.plannedVisitors = needed.value
  void commit()
}
/** An empty field is no number, and no mistake. */
const optional = (key: 'mean' | 'deviation') =>
  computed({
    get: () => plan.value[key] ?? '',
    set: (value: number | string) => void (plan.value[key] = value === '' ? null : Number(value)),
  })
const [mean, deviation] = [optional('mean'), optional('deviation')]
</script>

<template>
  <SheetSection name="decided" title="Decided how" note="Fixed before the start.">
    <div class="grid max-w-2xl gap-x-4 gap-y-4 sm:grid-cols-3">
      <PercentField
        v-model="plan.smallestLift"
        label="Smallest worthwhile lift"
        :disabled="disabled"
        :error="errors['plan.smallestLift']"
        @commit="commit"
      />
      <PercentField
        v-if="kind === 'conversion'"
        v-model="plan.baseline"
        label="Expected rate of the control"
        :disabled="disabled"
        :error="errors['plan.baseline']"
        @commit="commit"
      />
      <template v-else>
        <TextField
          v-model="mean"
          label="Expected value of the control"
          type="number"
          :disabled="disabled"
          :error="errors['plan.mean']"
          @commit="commit"
        />
        <TextField
          v-model="deviation"
          label="Standard deviation"
          hint="Of one visitor’s value."
          type="number"
          :disabled="disabled"
          :error="errors['plan.deviation']"
          @commit="commit"
        />
      </template>
      <TextField
        v-model="plan.plannedVisitors"
        label="Planned visitors"
        type="number"
        :disabled="disabled"
        :error="errors['plan.plannedVisitors']"
        @commit="commit"
      />
      <ChoiceField
        v-model="plan.rule"
        label="Rule"
        :hint="RULES[plan.rule]"
        :choices="[
          { value: 'sequential', label: 'sequential' },
          { value: 'fixed', label: 'fixed' },
          { value: 'low-risk', label: 'low risk' },
        ]"
        :disabled="disabled"
        @commit="commit"
      />
      <TextField
        v-model="plan.leastWeeks"
        label="Least run"
        unit="weeks"
        type="number"
        :disabled="disabled"
        :error="errors['plan.leastWeeks']"
        @commit="commit"
      />
      <TextField
        v-model="plan.longestWeeks"
        label="Longest run"
        unit="weeks"
        type="number"
        :disabled="disabled"
        :error="errors['plan.longestWeeks']"
        @commit="commit"
      />
      <PercentField
        v-if="plan.rule === 'low-risk'"
        v-model="plan.lossLimit"
        label="Accepted loss"
        hint="Of the control’s mean."
        :disabled="disabled"
        :error="errors['plan.lossLimit']"
        @commit="commit"
      />
    </div>
    <p v-if="needed && !disabled" class="mt-3 text-sm text-ink-soft">
      To find the smallest worthwhile lift with a power of 80 %,
      {{ plan.rule === 'fixed' ? 'one look' : 'looking whenever you like' }} needs {{ formatCount(needed) }} visitors in
      all.
      <button
        v-if="needed !== plan.plannedVisitors"
        type="button"
        class="font-medium text-accent underline"
        @click="useNeeded"
      >
        Plan for them
      </button>
    </p>
    <RehearsalPanel
      v-if="plannedMetric"
      :plan="plan"
      :metric="plannedMetric"
      :direction="store.sheet?.metrics[0]?.direction ?? 'up'"
      :weights="store.sheet?.variants.map((variant) => variant.weight) ?? []"
    />
  </SheetSection>
</template>
