<script setup lang="ts">
/** A number with how it differs from another one; nothing of that where the other is missing. */
const props = defineProps<{
  text: string
  value: number | null
  other: number | null | undefined
  /** The difference of shares in points instead of a ratio. */
  isShare?: boolean
}>()
const change = computed(() => {
  const { value, other, isShare } = props
  if (value === null || other === null || other === undefined) return null
  if (isShare) return `${value >= other ? '+' : '−'}${Math.abs((value - other) * 100).toFixed(1)} pp`
  return other === 0 ? null : formatLift(value / other - 1)
})
</script>

<template>
  <span class="inline-flex flex-col items-end leading-tight">
    <span>{{ text }}</span>
    <span v-if="change" class="text-xs text-ink-soft">{{ change }}</span>
  </span>
</template>
