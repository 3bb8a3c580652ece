<script setup lang="ts">
import type { DayView, LooksView } from '~~/shared/experiments/resultsReplies'
import type { ExperimentSheet, MetricView } from '~~/shared/experiments/replies'
import { decisiveMethod } from '~~/core/analysis/readings'
import { liftChart } from '~/charts/liftChart'
import type { DayMarker } from '~/charts/dayMarkers'
import { builtUpLifts, dailyLifts, LIFT_COLUMNS, type LiftView } from '~/sheets/liftRows'

/** The lift of one variant with its interval: as it built up, or of each day alone. */
const props = defineProps<{
  sheet: ExperimentSheet
  metric: MetricView
  position: number
  looks: LooksView
  days: readonly DayView[]
  markers: readonly DayMarker[]
}>()
const VIEWS: readonly { value: LiftView; label: string }[] = [
  { value: 'built-up', label: 'As it built up' },
  { value: 'by-day', label: 'Each day alone' },
]
const view = useQueryChoice<LiftView>('lift', () => VIEWS.map(({ value }) => value))
const method = computed(() => decisiveMethod(props.sheet.plan.rule))
const name = computed(() => props.sheet.variants[props.position]?.name ?? '')
const lifts = computed(() =>
  view.value === 'built-up'
    ? builtUpLifts(props.looks, props.metric, props.position, method.value)
    : dailyLifts(props.days, props.metric.versionId, props.position),
)
const worthwhile = computed(() => props.sheet.plan.smallestLift * (props.metric.direction === 'down' ? -1 : 1))
const counted = computed(() =>
  props.metric.windowDays === null
    ? 'All visitors up to that day'
    : 'All visitors whose observation window was over by that day',
)
const intervalOf = computed(() =>
  method.value === 'spending' && props.metric.role === 'primary' ? 'each look of the plan' : 'the plan',
)
const note = computed(() =>
  view.value === 'built-up'
    ? `${counted.value}, with the ${formatShare(1 - props.sheet.plan.alpha, 0)} interval of ${intervalOf.value}; ${props.sheet.timeZone}`
    : `Visitors first seen that day, with the interval of one look; ${props.sheet.timeZone}`,
)
const last = computed(() => lifts.value.findLast(({ lift }) => lift !== null))
const summary = computed(() =>
  last.value
    ? `Lift of ${name.value} by day; on ${last.value.day} ${formatLift(last.value.lift)}, ${formatInterval(last.value.interval)}.`
    : 'No lift yet.',
)
</script>

<template>
  <ChartFrame
    :title="`Lift of ${name}`"
    :note="note"
    :summary="summary"
    :draw="
      (tokens) => liftChart({ lifts, position, name, worthwhile, markers: view === 'built-up' ? markers : [] }, tokens)
    "
    :columns="LIFT_COLUMNS"
    :rows="lifts"
    :row-key="({ day }) => day"
  >
    <template #choice><ButtonRow v-model="view" label="Lift over time" :choices="VIEWS" /></template>
  </ChartFrame>
</template>
