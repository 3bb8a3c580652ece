<script setup lang="ts">
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import type { SegmentView } from '~~/shared/experiments/resultsReplies'

/** One metric over time and within segments: one variant at a time, both kept in the address. */
const props = defineProps<{
  sheet: ExperimentSheet
  /** When the numbers were counted last. */ countedAt: string | null
  /** Whether the plan has concluded. */
  isConcluded: boolean
}>()
const TIMES = ['week', 'weekday'] as const
/** Computed from raw events, once somebody wants to know. */
const SINCE = 'since'
const api = useApi()
const store = useSheetStore()
const looks = useLoaded(() => api('readLooks', store.place))
const days = useLoaded(() => api('readDays', store.place))
const segments = useLoaded(() => api('readSegments', store.place))
const trends = useLoaded(() => api('readTrends', store.place))
const parts = [looks, days, segments, trends]
const reloadAll = () => Promise.all(parts.map(({ reload }) => reload()))
const EVERY = 60_000
watchThrottled(() => props.countedAt, reloadAll, { throttle: EVERY, leading: false, trailing: true })

const problem = computed(() => parts.map((part) => part.problem.value).find(Boolean))
const metricId = useQueryChoice('metric', () => props.sheet.metrics.map(({ id }) => id))
const metric = computed(() => props.sheet.metrics.find(({ id }) => id === metricId.value)!)
const metrics = computed(() => props.sheet.metrics.map(({ id, name }) => ({ value: id, label: name })))
const variantId = useQueryChoice('variant', () => props.sheet.variants.slice(1).map(({ id }) => id))
const position = computed(() => props.sheet.variants.findIndex(({ id }) => id === variantId.value))
const variants = computed(() => props.sheet.variants.slice(1).map(({ id, name }) => ({ value: id, label: name })))
/** Weeks and weekdays stand beside what visitors were. */
const all = computed<SegmentView[]>(() => [
  ...(segments.value.value ?? []),
  ...TIMES.map((part) => ({
    dimension: part,
    metrics: (trends.value.value ?? []).map(({ metricVersionId, comparisons }) => ({
      metricVersionId,
      comparisons: comparisons.map((each) => each[part]),
    })),
  })),
])
const dimensionNames = () => [...all.value.map((each) => each.dimension), SINCE]
const dimension = useQueryChoice('segment', dimensionNames)
const dimensions = computed(() => dimensionNames().map((value) => ({ value, label: segmentName(value) })))
const segment = computed(() => all.value.find((each) => each.dimension === dimension.value) ?? null)
const trend = computed(
  () =>
    trends.value.value?.find(({ metricVersionId }) => metricVersionId === metric.value.versionId)?.comparisons[
      position.value - 1
    ] ?? null,
)
const isOfTime = computed(() => TIMES.some((part) => part === dimension.value))
const markers = useDayMarkers(() => props.sheet)
</script>

<template>
  <div class="flex flex-col gap-6" data-testid="over-time">
    <div class="flex flex-wrap items-end gap-x-6 gap-y-3">
      <h3 class="w-full">Over time and by segment</h3>
      <ChoiceField v-if="metrics.length > 1" v-model="metricId" class="w-64" label="Metric" :choices="metrics" />
      <ButtonRow v-if="variants.length > 1" v-model="variantId" label="Variant" :choices="variants">
        <template #choice="{ value }">
          <VariantMark :position="sheet.variants.findIndex(({ id }) => id === value)" />
          <span class="sr-only">{{ sheet.variants.find(({ id }) => id === value)?.name }}</span>
        </template>
      </ButtonRow>
    </div>
    <ProblemNote v-if="problem" :text="problem" @retry="reloadAll" />
    <LoadingNote v-else-if="!looks.value.value || !days.value.value || !segments.value.value || !trends.value.value" />
    <template v-else>
      <LiftOverTime
        :sheet="sheet"
        :metric="metric"
        :position="position"
        :looks="looks.value.value"
        :days="days.value.value"
        :markers="markers"
      />
      <DailyCounts :sheet="sheet" :metric="metric" :days="days.value.value" />
      <div class="flex flex-col gap-2">
        <h4 class="font-medium">{{ metric.name }} by segment</h4>
        <ButtonRow v-model="dimension" label="Segment" :choices="dimensions" />
        <SinceExposure
          v-if="dimension === SINCE"
          :key="metric.versionId"
          :sheet="sheet"
          :metric="metric"
          :position="position"
          :is-concluded="isConcluded"
        />
      </div>
      <div v-if="segment" class="flex flex-col gap-2">
        <p class="text-sm text-ink-soft">
          <template v-if="isOfTime">By the day of the first exposure. </template>
          <template v-else>What visitors were at their first exposure. </template>
          Intervals are for one look; p-values are corrected over all {{ isOfTime ? 'rows' : 'segments' }}. Segments do
          not decide.
        </p>
        <OneLookNote :is-concluded="isConcluded" />
        <TrendNote v-if="dimension === 'week' && trend" :trend="trend" :alpha="sheet.plan.alpha" />
        <SegmentTable :sheet="sheet" :metric="metric" :position="position" :segment="segment" />
      </div>
    </template>
  </div>
</template>
