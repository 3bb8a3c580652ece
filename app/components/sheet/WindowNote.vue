<script setup lang="ts">
import type { MetricResults } from '~~/shared/experiments/resultsReplies'

/** Of a metric with an observation window: how many visitors count, and why the others do not. */
const props = defineProps<{ results: MetricResults; visitors: number }>()
const counted = computed(() => props.results.arms.reduce((sum, arm) => sum + arm.visitors, 0))
const open = computed(() => props.visitors - counted.value)
const days = computed(() => props.results.metric.windowDays)
</script>

<template>
  <p v-if="days !== null && open > 0" class="text-sm text-ink-soft" data-testid="window-note">
    {{ formatCount(counted) }} of {{ formatCount(visitors) }} visitors count.
    {{ open === 1 ? 'One was' : `${formatCount(open)} were` }} not measured for {{ days }}
    {{ days === 1 ? 'whole day' : 'whole days' }} yet.
  </p>
</template>
