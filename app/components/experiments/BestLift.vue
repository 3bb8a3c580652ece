<script setup lang="ts">
import type { ExperimentSummary } from '~~/shared/experiments/replies'

/** The lift of the best variant with its track, for a row of a table. */
defineProps<{ summary: ExperimentSummary; domain: [number, number]; hasMark?: boolean }>()
</script>

<template>
  <span v-if="summary.best" class="flex items-center gap-2">
    <VariantMark v-if="hasMark" :position="summary.best.position" />
    <span class="w-18 shrink-0 text-right whitespace-nowrap">{{ formatLift(summary.best.lift) }}</span>
    <IntervalTrack
      small
      class="w-40"
      :interval="summary.best.interval"
      :estimate="summary.best.lift"
      :smallest-lift="summary.smallestLift"
      :domain="domain"
    />
  </span>
  <span v-else class="text-ink-soft">–</span>
</template>
