<script setup lang="ts">
/** How a count went from day to day, without axes. */
const props = defineProps<{ values: readonly number[]; label: string }>()
const [WIDTH, HEIGHT] = [88, 22]
const points = computed(() => {
  const most = Math.max(1, ...props.values)
  const step = WIDTH / Math.max(1, props.values.length - 1)
  return props.values.map(
    (value, index) => `${(index * step).toFixed(1)},${(HEIGHT - 2 - (value / most) * (HEIGHT - 4)).toFixed(1)}`,
  )
})
</script>

<template>
  <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" class="h-5.5 w-22" role="img" :aria-label="label">
    <polyline :points="points.join(' ')" class="fill-none stroke-ink-soft" stroke-width="1.25" />
  </svg>
</template>
