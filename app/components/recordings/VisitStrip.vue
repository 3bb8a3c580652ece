<script setup lang="ts">
import type { MarkKind, Strip } from '~~/core/evidence/strips'

/**
 * A visit from left to right: a notch a page, filled dots for clicks, open ones for clicks that did nothing, breaks where
 * nothing happened, a flag where something was reached.
 */
const props = defineProps<{ strip: Strip; /** Where it is being played, in ms. */ now?: number }>()
const drawing = useTemplateRef<SVGElement>('drawing')
const { width: room } = useElementSize(drawing)
/** As wide as there is room, so that dots are round. */
const width = computed(() => room.value || 600)
const HEIGHT = 28
const EDGE = 6
/** Nothing for so long is a break. */
const IDLE = 15_000
const length = computed(() => Math.max(1, props.strip.length))
const x = (at: number) => EDGE + (Math.min(at, length.value) / length.value) * (width.value - 2 * EDGE)
const SHAPES: Partial<Record<MarkKind, 'dot' | 'open' | 'flag' | 'cross'>> = {
  click: 'dot',
  field: 'dot',
  dead: 'open',
  rage: 'open',
  submit: 'flag',
  amount: 'flag',
  custom: 'flag',
  answer: 'flag',
  error: 'cross',
}
const breaks = computed(() => {
  const moments = [...props.strip.pages, ...props.strip.marks].map(({ at }) => at).sort((a, b) => a - b)
  return moments.flatMap((at, index) => {
    const before = moments[index - 1] ?? 0
    return at - before > IDLE ? [{ from: x(before + 3000), to: x(at - 1000) }] : []
  })
})
const words = computed(() => {
  const count = (kind: MarkKind) => props.strip.marks.filter((mark) => mark.kind === kind).length
  return `${props.strip.pages.length} pages, ${count('click')} clicks, ${count('dead') + count('rage')} that did nothing, ${count('error')} errors`
})
</script>

<template>
  <svg
    ref="drawing"
    :viewBox="`0 0 ${width} ${HEIGHT}`"
    preserveAspectRatio="none"
    class="h-7 w-full min-w-48"
    role="img"
    :aria-label="words"
  >
    <line :x1="EDGE" :x2="width - EDGE" y1="18" y2="18" class="stroke-line-strong" stroke-width="1.5" />
    <line
      v-for="(gap, index) in breaks"
      :key="`break-${index}`"
      :x1="gap.from"
      :x2="gap.to"
      y1="18"
      y2="18"
      class="stroke-ground"
      stroke-width="3"
      stroke-dasharray="3 4"
    />
    <line
      v-for="({ at }, index) in strip.pages"
      :key="`page-${index}`"
      :x1="x(at)"
      :x2="x(at)"
      y1="10"
      y2="26"
      class="stroke-ink"
      stroke-width="2"
    />
    <template v-for="({ at, kind }, index) in strip.marks" :key="`mark-${index}`">
      <circle v-if="SHAPES[kind] === 'dot'" :cx="x(at)" cy="18" r="3" class="fill-ink-soft" />
      <circle
        v-else-if="SHAPES[kind] === 'open'"
        :cx="x(at)"
        cy="18"
        :r="kind === 'rage' ? 6 : 4"
        class="fill-ground stroke-rust"
        stroke-width="1.75"
      />
      <path v-else-if="SHAPES[kind] === 'flag'" :d="`M${x(at)} 18V3l8 3.5l-8 3.5`" class="fill-pine stroke-pine" />
      <path v-else :d="`M${x(at) - 4} 14l8 8m0-8l-8 8`" class="stroke-rust" stroke-width="2" />
    </template>
    <line
      v-if="now !== undefined"
      :x1="x(now)"
      :x2="x(now)"
      y1="0"
      :y2="HEIGHT"
      class="stroke-accent"
      stroke-width="2"
    />
  </svg>
</template>
