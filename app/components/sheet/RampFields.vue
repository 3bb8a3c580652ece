<script setup lang="ts">
import { BUCKETS } from '~~/core/assignment/assignment'
import type { RampStep } from '~~/core/sheet/terms'

/** Shares that visitors begin with, each for some days. */
const props = defineProps<{
  steps: readonly RampStep[]
  /** By the place of what they are about. */ errors: Readonly<Record<string, string>>
}>()
const emit = defineEmits<{ change: [steps: RampStep[]]; commit: [] }>()

function keep(steps: RampStep[]): void {
  emit('change', steps)
  emit('commit')
}
function add(): void {
  const last = props.steps.at(-1)
  keep([...props.steps, { share: last ? Math.min(last.share * 4, BUCKETS) : BUCKETS / 20, days: 2 }])
}
/** What is no number stays as it is typed: whoever checks it says so. */
function set(index: number, changes: { share?: number | string | null; days?: number | string | null }): void {
  emit('change', props.steps.map((step, at) => (at === index ? { ...step, ...changes } : step)) as RampStep[])
}
const asBuckets = (share: number | string | null) => (typeof share === 'number' ? Math.round(share * BUCKETS) : share)
</script>

<template>
  <fieldset class="flex flex-col gap-2">
    <legend class="mb-1 text-sm font-medium">Ramp-up</legend>
    <div v-for="(step, index) in steps" :key="index" class="flex flex-wrap items-start gap-3">
      <PercentField
        class="w-28"
        :model-value="typeof step.share === 'number' ? step.share / BUCKETS : step.share"
        label="First"
        :error="errors[`[${index}].share`]"
        @update:model-value="set(index, { share: asBuckets($event) })"
        @commit="emit('commit')"
      />
      <TextField
        class="w-28"
        :model-value="step.days"
        label="for"
        unit="days"
        numeric
        :error="errors[`[${index}].days`]"
        @update:model-value="set(index, { days: numberOrTyped($event) })"
        @commit="emit('commit')"
      />
      <BaseButton
        class="mt-6"
        kind="quiet"
        :aria-label="`Remove step ${index + 1}`"
        @click="keep(steps.toSpliced(index, 1))"
        >Remove</BaseButton
      >
    </div>
    <p class="text-sm text-ink-soft">
      The next step comes by itself, only while no guardrail is harmed and the data is sound. Everybody keeps their
      variant.
    </p>
    <div><BaseButton class="-ml-3" kind="quiet" @click="add">Add a step</BaseButton></div>
  </fieldset>
</template>
