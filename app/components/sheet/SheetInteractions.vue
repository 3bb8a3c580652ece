<script setup lang="ts">
import type { ExperimentSheet } from '~~/shared/experiments/replies'

/** Other experiments on the same visitors: asked for only once somebody wants to know, since it reads them all. */
defineProps<{ sheet: ExperimentSheet; isConcluded: boolean }>()
const isOpen = ref(false)
</script>

<template>
  <details data-testid="interactions" @toggle="isOpen = ($event.target as HTMLDetailsElement).open">
    <summary class="cursor-pointer font-medium">Other experiments on the same visitors</summary>
    <InteractionPanel v-if="isOpen" class="mt-3" :sheet="sheet" :is-concluded="isConcluded" />
  </details>
</template>
