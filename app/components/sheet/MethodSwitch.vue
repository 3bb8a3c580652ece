<script setup lang="ts">
import type { ReadingMethod } from '~~/core/analysis/readings'
import { READING_METHODS } from '~/composables/useReadingMethod'

/** By what the results are read. The one that the plan decides by says so. */
const props = defineProps<{
  decisive: ReadingMethod
  /** Nothing is decided: all of them only explain. */ hasNoVerdict?: boolean
}>()
const method = defineModel<ReadingMethod>({ required: true })
const choices = computed(() =>
  // Only plans with looks of their own are read by them.
  READING_METHODS.filter(({ value }) => value !== 'spending' || props.decisive === 'spending').map(
    ({ value, label }) => ({
      value,
      label,
      ...(value === props.decisive && !props.hasNoVerdict ? { note: 'decides' } : {}),
    }),
  ),
)
const hint = computed(() => {
  const { hint: own } = READING_METHODS.find(({ value }) => value === method.value)!
  if (props.hasNoVerdict) return own
  return method.value === props.decisive
    ? `${own} The plan decides by it.`
    : `${own} The plan decides by another: this one explains.`
})
</script>

<template>
  <div class="flex flex-wrap items-center gap-x-4 gap-y-1">
    <ButtonRow v-model="method" label="Read the results by" :choices="choices" />
    <p class="text-sm text-ink-soft">{{ hint }}</p>
  </div>
</template>
