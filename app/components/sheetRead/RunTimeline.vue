<script setup lang="ts">
/** The run as the plan has it: from the start to the longest run, with the least one marked, and today or the end. */
const props = defineProps<{
  leastWeeks: number
  longestWeeks: number
  /** Days run so far. */ days: number
  isOver: boolean
}>()
const WIDTH = 576
const last = computed(() => Math.max(props.longestWeeks * 7, props.days, 1))
const x = (day: number) => (Math.min(day, last.value) / last.value) * (WIDTH - 2) + 1
const here = computed(() => x(props.days))
const words = computed(
  () =>
    `${props.isOver ? 'Ran' : 'Has run'} ${props.days} of at most ${props.longestWeeks * 7} days; no verdict before day ${props.leastWeeks * 7}`,
)
/** Words stay within the drawing. */
const anchor = (at: number) => (at < 60 ? 'start' : at > WIDTH - 60 ? 'end' : 'middle')
const isApart = computed(() => Math.abs(x(props.leastWeeks * 7) - x(last.value)) > 90)
</script>

<template>
  <svg :viewBox="`0 0 ${WIDTH} 52`" class="w-full max-w-xl" role="img" :aria-label="words">
    <rect x="1" y="20" :width="WIDTH - 2" height="8" rx="2" class="fill-neutral-soft" />
    <rect
      x="1"
      y="20"
      :width="Math.max(0, here - 1)"
      height="8"
      rx="2"
      :class="isOver ? 'fill-ink-soft' : 'fill-ink'"
    />
    <line :x1="x(leastWeeks * 7)" :x2="x(leastWeeks * 7)" y1="15" y2="33" class="stroke-ink-soft" stroke-width="1.5" />
    <text
      v-if="isApart"
      :x="x(leastWeeks * 7)"
      y="48"
      :text-anchor="anchor(x(leastWeeks * 7))"
      class="fill-ink-soft text-[12px]"
    >
      least run, day {{ leastWeeks * 7 }}
    </text>
    <line
      :x1="x(longestWeeks * 7)"
      :x2="x(longestWeeks * 7)"
      y1="15"
      y2="33"
      class="stroke-ink-soft"
      stroke-width="1.5"
    />
    <text :x="x(longestWeeks * 7)" y="48" :text-anchor="anchor(x(longestWeeks * 7))" class="fill-ink-soft text-[12px]">
      longest, day {{ longestWeeks * 7 }}
    </text>
    <path :d="`M${here - 5} 6h10l-5 9Z`" class="fill-ink" />
    <text
      :x="here + (here > WIDTH - 80 ? -9 : 9)"
      y="13"
      :text-anchor="here > WIDTH - 80 ? 'end' : 'start'"
      class="fill-ink text-[12px]"
    >
      {{ isOver ? 'ended' : 'today' }}, day {{ days }}
    </text>
  </svg>
</template>
