<script setup lang="ts">
/** The mark that tells a variant apart by letter, shape and color; a hollow ring for the control. */
const props = defineProps<{ position: number }>()
const SHAPES = [
  'M8 1 15 15H1Z',
  'M1.5 1.5h13v13h-13Z',
  'M8 .5 15.5 8 8 15.5.5 8Z',
  'M5 1h6l4 7-4 7H5L1 8Z',
  'M1 1h14L8 15Z',
]
const color = computed(() => `var(--color-variant-${props.position === 0 ? 0 : ((props.position - 1) % 5) + 1})`)
</script>

<template>
  <span class="inline-flex items-center gap-1.5 whitespace-nowrap">
    <svg viewBox="0 0 16 16" class="size-3.5 shrink-0" aria-hidden="true">
      <circle v-if="position === 0" cx="8" cy="8" r="6" fill="none" :stroke="color" stroke-width="2.5" />
      <path v-else :d="SHAPES[(position - 1) % SHAPES.length]" :fill="color" />
    </svg>
    <span class="font-mono text-sm">{{ variantLetter(position) }}</span>
  </span>
</template>
