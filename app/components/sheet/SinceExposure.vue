<script setup lang="ts">
import type { ExperimentSheet, MetricView } from '~~/shared/experiments/replies'
import type { SegmentView } from '~~/shared/experiments/resultsReplies'

/** Whether the lift wears off or grows with the days since visitors saw the experiment first. */
const props = defineProps<{ sheet: ExperimentSheet; metric: MetricView; position: number; isConcluded: boolean }>()
const api = useApi()
const store = useSheetStore()
const {
  value: read,
  problem,
  reload,
} = useLoaded(() => api('readSinceExposure', { ...store.place, query: { metric: props.metric.versionId } }))
const segment = computed<SegmentView | null>(
  () =>
    read.value && {
      dimension: 'since',
      metrics: [{ metricVersionId: props.metric.versionId, comparisons: read.value.comparisons }],
    },
)
const comparison = computed(() => read.value?.comparisons[props.position - 1] ?? null)
const trend = computed(() => comparison.value?.trend ?? null)
const pace = computed(() => {
  if (!trend.value) return null
  const { perDoubling, interval, pValue } = trend.value
  const words = `${formatLift(perDoubling)} with each doubling of the days (${formatInterval(interval)}), ${formatPEquals(pValue)}`
  if (pValue >= props.sheet.plan.alpha) return `No sign that the effect wears off or grows: ${words}.`
  const first = comparison.value?.readings[0]?.lift.estimate ?? 0
  return `The effect ${perDoubling * first < 0 ? 'wears off' : 'grows'}: ${words}.`
})
</script>

<template>
  <ProblemNote v-if="problem" :text="problem" @retry="reload" />
  <LoadingNote v-else-if="!read || !segment" />
  <p v-else-if="read.why" class="text-ink-soft">{{ read.why }}</p>
  <div v-else class="flex flex-col gap-2" data-testid="since-exposure">
    <p class="max-w-[72ch] text-sm text-ink-soft">
      {{ formatCount(read.visitors) }} visitors who were followed through all of these days{{
        read.isSample ? ', a sample' : ''
      }}. A conversion counts once in each row.
    </p>
    <OneLookNote :is-concluded="isConcluded" />
    <p v-if="pace" class="max-w-[72ch] text-sm">{{ pace }}</p>
    <SegmentTable :sheet="sheet" :metric="metric" :position="position" :segment="segment" test="Wald’s test" />
  </div>
</template>
