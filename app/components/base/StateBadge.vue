<script setup lang="ts">
import type { ExperimentState } from '~~/shared/experiments/experiment'

defineProps<{ state: ExperimentState }>()
const SIGNS: Record<ExperimentState, string> = { draft: '✎', running: '▶', paused: 'Ⅱ', ended: '■' }
</script>

<template>
  <span
    class="inline-flex items-center gap-1.5 text-sm whitespace-nowrap"
    :class="state === 'running' ? 'text-pine' : 'text-ink-soft'"
    ><span aria-hidden="true" class="text-xs">{{ SIGNS[state] }}</span
    >{{ state }}</span
  >
</template>
