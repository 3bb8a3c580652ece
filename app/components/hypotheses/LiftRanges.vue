<script setup lang="ts">
import type { Past } from '~~/core/hypotheses/pastLifts'
import type { LiftRange } from '~~/core/hypotheses/pert'

/** Lifts as they were typed, what was achieved before, and what becomes of the typed ones: on one scale. */
const props = defineProps<{ typed: LiftRange; past: Past; drawn: LiftRange | null }>()
const rows = computed(() => [
  { label: 'typed', low: props.typed.low, likely: props.typed.likely, high: props.typed.high },
  {
    label: props.past.count === 0 ? 'common' : 'by earlier tests',
    low: props.past.mean - 2 * props.past.deviation,
    likely: props.past.mean,
    high: props.past.mean + 2 * props.past.deviation,
  },
  ...(props.drawn ? [{ label: 'adjusted by past results', ...props.drawn }] : []),
])
const WIDTH = 420
const LEFT = 118
const ROW = 26
const domain = computed(() => {
  const all = rows.value.flatMap(({ low, high }) => [low, high, 0])
  const [low, high] = [Math.min(...all), Math.max(...all)]
  const margin = Math.max(0.005, (high - low) * 0.08)
  return [low - margin, high + margin] as const
})
const x = (lift: number) => LEFT + ((lift - domain.value[0]) / (domain.value[1] - domain.value[0])) * (WIDTH - LEFT - 6)
const height = computed(() => rows.value.length * ROW + 20)
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${WIDTH} ${height}`" class="w-full max-w-md" aria-hidden="true">
      <line :x1="x(0)" :x2="x(0)" y1="2" :y2="height - 18" class="stroke-line-strong" />
      <text :x="x(0)" :y="height - 4" text-anchor="middle" class="fill-ink-soft text-[12px]">no lift</text>
      <g v-for="(row, index) in rows" :key="row.label" :transform="`translate(0 ${index * ROW + 14})`">
        <text x="0" y="4" class="fill-ink text-[12px]">{{ row.label }}</text>
        <line
          :x1="x(row.low)"
          :x2="x(row.high)"
          y1="0"
          y2="0"
          class="stroke-ink"
          :stroke-width="row.label === 'adjusted by past results' ? 5 : 2"
          :stroke-dasharray="row.label === 'by earlier tests' || row.label === 'common' ? '4 3' : undefined"
        />
        <circle :cx="x(row.likely)" cy="0" r="5" class="fill-raised stroke-ink" stroke-width="2" />
      </g>
    </svg>
    <figcaption class="text-sm">
      <span v-for="row in rows" :key="row.label" class="block"
        >{{ row.label }}: {{ formatLift(row.low) }} to {{ formatLift(row.high) }}, likely
        {{ formatLift(row.likely) }}</span
      >
    </figcaption>
  </figure>
</template>
