<script setup lang="ts">
import { variantShape, variantToken } from '~/charts/variantShapes'

/** The mark that tells a variant apart by letter, shape and color; a hollow ring for the control. */
const props = defineProps<{ position: number }>()
const color = computed(() => `var(${variantToken(props.position)})`)
</script>

<template>
  <span class="inline-flex items-center gap-1.5 whitespace-nowrap">
    <svg viewBox="0 0 16 16" class="size-3.5 shrink-0" aria-hidden="true">
      <path :d="variantShape(position)" :fill="color" />
    </svg>
    <span class="font-mono text-sm">{{ variantLetter(position) }}</span>
  </span>
</template>
