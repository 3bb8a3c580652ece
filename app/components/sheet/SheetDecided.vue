<script setup lang="ts">
import { sampleSizeForConversion } from '~~/core/statistics/power'

defineProps<{ disabled: boolean }>()
const store = useSheetStore()
const { draft, errors, commit } = useSectionDraft(['plan'], (sheet) => ({ plan: sheet.plan }))
const plan = computed(() => draft.value.plan!)
const isConversion = computed(() => store.sheet?.metric?.kind !== 'mean')

const RULES = { sequential: 'Look whenever you like.', fixed: 'One look at the end.', 'low-risk': 'Also ships when little can be lost.' }

/** Visitors that a fixed look at the end would need, with a power of 80 %. */
const needed = computed(() => {
  const { baseline, smallestLift, alpha } = plan.value
  const weights = store.sheet?.variants.map((variant) => variant.weight) ?? []
  try {
    const arms = sampleSizeForConversion({ baseline, lift: smallestLift, alpha, power: 0.8, weights })
    const total = arms.reduce((sum, arm) => sum + arm, 0)
    return Number.isFinite(total) ? total : null
  } catch {
    return null
  }
})
function useNeeded(): void {
  if (needed.value) plan.value.plannedVisitors = needed.value
  void commit()
}
</script>

<template>
  <SheetSection name="decided" title="Decided how" note="Fixed before the start.">
    <div class="grid max-w-2xl gap-x-4 gap-y-4 sm:grid-cols-3">
      <PercentField v-model="plan.smallestLift" label="Smallest worthwhile lift" :disabled="disabled" :error="errors['plan.smallestLift']" @commit="commit" />
      <PercentField v-if="isConversion" v-model="plan.baseline" label="Expected rate of the control" :disabled="disabled" :error="errors['plan.baseline']" @commit="commit" />
      <TextField v-model="plan.plannedVisitors" label="Planned visitors" type="number" :disabled="disabled" :error="errors['plan.plannedVisitors']" @commit="commit" />
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
      <TextField v-model="plan.leastWeeks" label="Least run" unit="weeks" type="number" :disabled="disabled" :error="errors['plan.leastWeeks']" @commit="commit" />
      <TextField v-model="plan.longestWeeks" label="Longest run" unit="weeks" type="number" :disabled="disabled" :error="errors['plan.longestWeeks']" @commit="commit" />
      <PercentField v-if="plan.rule === 'low-risk'" v-model="plan.lossLimit" label="Accepted loss" hint="Of the control’s mean." :disabled="disabled" :error="errors['plan.lossLimit']" @commit="commit" />
    </div>
    <p v-if="isConversion && needed && !disabled" class="mt-3 text-sm text-ink-soft">
      One look with a power of 80 % needs {{ formatCount(needed) }} visitors in all.
      <button v-if="needed !== plan.plannedVisitors" type="button" class="font-medium text-accent underline" @click="useNeeded">Plan for them</button>
    </p>
  </SheetSection>
</template>
