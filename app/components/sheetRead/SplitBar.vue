<script setup lang="ts">
import { variantToken } from '~/charts/variantShapes'
import type { SheetVariant } from '~~/core/sheet/content'

/** The visitors of the pages as one bar: each variant's share of them, and hatched those who stay outside. */
const props = defineProps<{ variants: readonly SheetVariant[]; /** Of 10,000 buckets. */ share: number }>()
const total = computed(() => props.variants.reduce((sum, { weight }) => sum + weight, 0))
const parts = computed(() => {
  let from = 0
  return props.variants.map(({ id, name, weight }, position) => {
    const width = total.value > 0 ? (weight / total.value) * (props.share / 10_000) : 0
    const part = { id, name, position, from, width, color: `var(${variantToken(position)})` }
    from += width
    return part
  })
})
const WIDTH = 576
const pattern = useId()
const words = computed(() =>
  parts.value.map(({ name, width }) => `${name} ${formatPercent(Number(width.toFixed(4)))}`).join(', '),
)
</script>

<template>
  <div class="flex max-w-xl flex-col gap-1.5">
    <svg
      :viewBox="`0 0 ${WIDTH} 14`"
      class="w-full"
      role="img"
      :aria-label="`Of all visitors of these pages: ${words}`"
    >
      <defs>
        <pattern :id="pattern" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="6" height="6" class="fill-ground" />
          <rect width="1.5" height="6" class="fill-line-strong" />
        </pattern>
      </defs>
      <rect width="576" height="14" rx="2" :fill="`url(#${pattern})`" />
      <rect
        v-for="part in parts"
        :key="part.id"
        :x="part.from * WIDTH"
        :width="Math.max(0, part.width * WIDTH - 1.5)"
        height="14"
        :fill="part.color"
      />
    </svg>
    <p class="flex flex-wrap gap-x-5 gap-y-1 text-sm">
      <span v-for="part in parts" :key="part.id" class="inline-flex items-center gap-1.5"
        ><VariantMark :position="part.position" /> {{ formatShare(part.width, 1) }}</span
      >
      <span v-if="share < 10_000" class="text-ink-soft">{{ formatPercent(1 - share / 10_000) }} stay outside</span>
    </p>
  </div>
</template>
