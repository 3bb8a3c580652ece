<script setup lang="ts">
import type { SheetPlan } from '~~/core/sheet/content'
import { sampleSize, type LookPlan, type PlannedMetric } from '~~/core/statistics/power'

defineProps<{ disabled: boolean }>()
const { content, make } = useSheetChanges()
const FIELDS = [
  'smallestLift',
  'baseline',
  'mean',
  'deviation',
  'plannedVisitors',
  'rule',
  'leastWeeks',
  'longestWeeks',
  'lossLimit',
] as const
const {
  draft: written,
  commit,
  state,
} = useSheetThing<SheetPlan>(
  { part: 'plan' },
  FIELDS.map((field) => [field]),
)
/** As it is on the sheet; what is being written is not computed with. */
const plan = computed(() => content.value.plan)
const kind = computed(() => content.value.metrics[0]?.kind ?? 'conversion')

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
  const weights = content.value.variants.map(({ weight }) => weight)
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
  if (!needed.value) return
  const { plannedVisitors } = plan.value
  make({ do: 'set', of: { part: 'plan' }, from: { plannedVisitors }, to: { plannedVisitors: needed.value } })
}
</script>

<template>
  <SheetSection name="decided" title="Decided how" note="Fixed before the start.">
    <div class="grid max-w-2xl gap-x-4 gap-y-4 sm:grid-cols-3">
      <PercentField
        v-model="written.smallestLift"
        label="Smallest worthwhile lift"
        :disabled="disabled"
        :state="state('smallestLift')"
        @commit="commit"
      />
      <PercentField
        v-if="kind === 'conversion'"
        v-model="written.baseline"
        label="Expected rate of the control"
        :disabled="disabled"
        :state="state('baseline')"
        @commit="commit"
      />
      <template v-else>
        <TextField
          v-model="written.mean!"
          label="Expected value of the control"
          numeric
          :disabled="disabled"
          :state="state('mean')"
          @commit="commit"
        />
        <TextField
          v-model="written.deviation!"
          label="Standard deviation"
          hint="Of one visitor’s value."
          numeric
          :disabled="disabled"
          :state="state('deviation')"
          @commit="commit"
        />
      </template>
      <TextField
        v-model="written.plannedVisitors"
        label="Planned visitors"
        numeric
        :disabled="disabled"
        :state="state('plannedVisitors')"
        @commit="commit"
      />
      <ChoiceField
        v-model="written.rule"
        label="Rule"
        :hint="RULES[written.rule]"
        :choices="[
          { value: 'sequential', label: 'sequential' },
          { value: 'fixed', label: 'fixed' },
          { value: 'low-risk', label: 'low risk' },
        ]"
        :disabled="disabled"
        :state="state('rule')"
        @commit="commit"
      />
      <TextField
        v-model="written.leastWeeks"
        label="Least run"
        unit="weeks"
        numeric
        :disabled="disabled"
        :state="state('leastWeeks')"
        @commit="commit"
      />
      <TextField
        v-model="written.longestWeeks"
        label="Longest run"
        unit="weeks"
        numeric
        :disabled="disabled"
        :state="state('longestWeeks')"
        @commit="commit"
      />
      <PercentField
        v-if="written.rule === 'low-risk'"
        v-model="written.lossLimit"
        label="Accepted loss"
        hint="Of the control’s mean."
        :disabled="disabled"
        :state="state('lossLimit')"
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
      :direction="content.metrics[0]?.direction ?? 'up'"
      :weights="content.variants.map(({ weight }) => weight)"
    />
  </SheetSection>
</template>
