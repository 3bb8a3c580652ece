<script setup lang="ts">
/**
 * One comparison: the zones harm, no matter and worthwhile from the decision plan, and the interval over them.
 * Tracks that belong together get the same domain.
 */
const props = withDefaults(
  defineProps<{
    interval: [number, number] | null
    estimate: number | null
    /** Smallest worthwhile lift. */
    smallestLift: number
    /** Lifts at the left and right edge. */
    domain: [number, number]
    direction?: 'up' | 'down'
    small?: boolean
    /** Of a guardrail: how much worse is accepted. Its track knows harm and accepted only. */
    harmLimit?: number | null
  }>(),
  { direction: 'up', harmLimit: null },
)
const WIDTH = computed(() => (props.small ? 160 : 576))
const height = computed(() => (props.small ? 18 : 64))
const barY = computed(() => (props.small ? 9 : 32))
const pattern = useId()
const sign = computed(() => (props.direction === 'down' ? -1 : 1))

function x(lift: number): number {
  const [low, high] = props.domain
  return ((Math.min(Math.max(lift, low), high) - low) / (high - low)) * WIDTH.value
}
const zones = computed(() => {
  const [low, high] = props.domain
  const isUp = sign.value > 0
  const harmFrom = -sign.value * (props.harmLimit ?? 0)
  const harm = { name: 'harm', from: isUp ? low : harmFrom, to: isUp ? harmFrom : high, class: 'fill-rust-soft' }
  const limit = sign.value * props.smallestLift
  const rest =
    props.harmLimit !== null
      ? [{ name: 'accepted', from: isUp ? harmFrom : low, to: isUp ? high : harmFrom, class: 'fill-neutral-soft' }]
      : [
          { name: 'no matter', from: Math.min(0, limit), to: Math.max(0, limit), class: 'fill-neutral-soft' },
          { name: 'worthwhile', from: isUp ? limit : low, to: isUp ? high : limit, class: 'fill-pine-soft' },
        ]
  return [harm, ...rest].map((zone) => ({ ...zone, x: x(zone.from), width: Math.max(0, x(zone.to) - x(zone.from)) }))
})
/** Open while the interval covers zero: drawn hatched. */
const isOpen = computed(() => props.interval !== null && props.interval[0] <= 0 && props.interval[1] >= 0)
const bar = computed(
  () => props.interval && { x: x(props.interval[0]), width: Math.max(2, x(props.interval[1]) - x(props.interval[0])) },
)
/** Edges that the interval reaches beyond. */
const cutOff = computed(() => {
  const [low, high] = props.domain
  const [from, to] = props.interval ?? props.domain
  return [...(from < low ? ['low'] : []), ...(to > high ? ['high'] : [])]
})
const ends = computed(() => {
  if (!props.interval || !bar.value) return null
  const low = Math.max(24, Math.min(bar.value.x, WIDTH.value - 84))
  return { low, high: Math.min(WIDTH.value - 24, Math.max(bar.value.x + bar.value.width, low + 58)) }
})
const words = computed(() =>
  props.interval
    ? `Lift between ${formatLift(props.interval[0])} and ${formatLift(props.interval[1])}; ${props.harmLimit === null ? `worthwhile from ${formatLift(sign.value * props.smallestLift)}` : `harm from ${formatLift(-sign.value * props.harmLimit)}`}`
    : 'No interval yet',
)
</script>

<template>
  <svg
    :viewBox="`0 0 ${WIDTH} ${height}`"
    class="w-full"
    :class="small ? 'max-w-40' : 'max-w-xl'"
    role="img"
    :aria-label="words"
  >
    <defs>
      <pattern :id="pattern" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="6" height="6" class="fill-raised" />
        <rect width="2.6" height="6" class="fill-ink-soft" />
      </pattern>
    </defs>
    <rect
      v-for="zone in zones"
      :key="zone.name"
      :x="zone.x"
      :y="barY - (small ? 7 : 13)"
      :width="zone.width"
      :height="small ? 14 : 26"
      :class="zone.class"
    />
    <template v-if="!small">
      <text
        v-for="zone in zones.filter((each) => each.width > 70 || each.name === 'harm')"
        :key="`${zone.name} name`"
        :x="zone.x + zone.width / 2"
        y="13"
        text-anchor="middle"
        class="fill-ink-soft text-[12px]"
      >
        {{ zone.name }}
      </text>
    </template>
    <line
      :x1="x(0)"
      :x2="x(0)"
      :y1="barY - (small ? 9 : 16)"
      :y2="barY + (small ? 9 : 16)"
      class="stroke-ink"
      stroke-width="1.5"
    />
    <template v-if="bar">
      <rect
        :x="bar.x"
        :y="barY - (small ? 3 : 5)"
        :width="bar.width"
        :height="small ? 6 : 10"
        rx="2"
        class="stroke-ink"
        stroke-width="1"
        :class="isOpen ? '' : 'fill-ink'"
        :fill="isOpen ? `url(#${pattern})` : undefined"
      />
      <path
        v-for="edge in cutOff"
        :key="edge"
        :d="edge === 'low' ? 'M6 -5 0 0 6 5Z' : 'M-6 -5 0 0 -6 5Z'"
        :transform="`translate(${edge === 'low' ? 0 : WIDTH} ${barY})`"
        class="fill-ink"
        :data-cut-off="edge"
      />
      <circle
        v-if="estimate !== null"
        :cx="x(estimate)"
        :cy="barY"
        :r="small ? 4 : 6"
        class="fill-raised stroke-ink"
        stroke-width="2"
      />
    </template>
    <template v-if="!small && interval && ends">
      <text :x="ends.low" :y="60" text-anchor="middle" class="fill-ink text-[13px]">{{ formatLift(interval[0]) }}</text>
      <text :x="ends.high" :y="60" text-anchor="middle" class="fill-ink text-[13px]">
        {{ formatLift(interval[1]) }}
      </text>
    </template>
  </svg>
</template>
