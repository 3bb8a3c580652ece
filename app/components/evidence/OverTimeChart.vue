<script setup lang="ts">
import type { Period } from '~~/core/time/periods'
import { MARK_KINDS, MARK_SIGNS, MARK_WORDS } from '~~/core/history/mark'
import type { OverTimeView } from '~~/shared/evidence/replies'
import { linesChart, type Line } from '~/charts/linesChart'
import { markersByPeriod, type DayMarker } from '~/charts/dayMarkers'
import type { Level } from '~/charts/levels'
import { measured, measureTitle, type Measure } from '~/data/overTimeMeasures'
import type { TableColumn } from '~/data/tableColumn'

/** One measure day by day, a line for each value of the dimension, and one of what it is compared with. */
const props = defineProps<{
  report: OverTimeView
  other: OverTimeView | null
  otherName: string
  measure: Measure
  format: (value: number) => string
  timeZone: string
  /** The last day that is shown. */
  to: string
  markers: readonly DayMarker[]
  levels?: readonly Level[]
  /** What is put together: a day, where nothing is said. */
  per?: Period
}>()
const PERIOD_WORDS: Record<Period, { header: string; note: string }> = {
  day: { header: 'Day', note: 'By the day on which a session began' },
  week: { header: 'Week from', note: 'By the week in which a session began, from Monday on' },
  month: { header: 'Month from', note: 'By the month in which a session began' },
}
const names = computed(() => props.report.series.map(({ value }) => value ?? 'all'))
const isSplit = computed(() => props.report.series.some(({ value }) => value !== null))
const lines = computed<Line[]>(() => {
  const own = props.report.series.map((series, index): Line => {
    const values = measured(series, props.measure).map((value, day) => ({ day: props.report.days[day]!, value }))
    const name = names.value[index]!
    return { name, label: isSplit.value || props.other ? name : '', position: isSplit.value ? index + 1 : null, values }
  })
  const compared = props.other && !isSplit.value ? props.other.series[0] : undefined
  if (!compared) return own
  // Day by day beside it, also where they are other days.
  const values = measured(compared, props.measure).map((value, day) => ({ day: props.report.days[day]!, value }))
  return [...own, { name: props.otherName, label: props.otherName, position: 0, values }]
})
interface Row {
  day: string
  values: (number | null)[]
}
const rows = computed<Row[]>(() =>
  props.report.days.map((day, index) => ({
    day,
    values: lines.value.map(({ values }) => values[index]?.value ?? null),
  })),
)
const columns = computed<TableColumn<Row>[]>(() => [
  { id: 'day', header: PERIOD_WORDS[props.per ?? 'day'].header, value: ({ day }) => day, isHeading: true },
  ...lines.value.map(({ name }, index): TableColumn<Row> => ({
    id: `series-${index}`,
    header: name,
    isNumeric: true,
    value: ({ values }) => values[index] ?? null,
    show: ({ values }) => (values[index] === null ? '–' : props.format(values[index]!)),
  })),
])
const summary = computed(() => {
  const [first, last] = [props.report.days[0], props.report.days.at(-1)]
  return `${measureTitle(props.measure, props.per ?? 'day')} from ${first} to ${last}: ${names.value.join(', ')}.`
})
const signs = computed(() =>
  MARK_KINDS.filter((kind) => props.markers.some(({ text }) => text.includes(MARK_SIGNS[kind]))).map(
    (kind) => `${MARK_SIGNS[kind]} ${MARK_WORDS[kind]}`,
  ),
)
const periods = computed(() => (!props.per || props.per === 'day' ? undefined : props.report.days))
const shownMarkers = computed(() => (periods.value ? markersByPeriod(props.markers, periods.value) : props.markers))
/** Today, or the period that it lies in, which is the last one where days are shown until today. */
const unfinished = computed(() => {
  const today = unfinishedDay(props.timeZone)
  return periods.value ? (props.to >= today ? periods.value.at(-1) : undefined) : today
})
</script>

<template>
  <ChartFrame
    :title="measureTitle(measure, per ?? 'day')"
    :note="[PERIOD_WORDS[per ?? 'day'].note, ...signs, timeZone].join('; ')"
    :summary="summary"
    :draw="
      (tokens) => linesChart({ lines, unit: '', format, periods, markers: shownMarkers, levels, unfinished }, tokens)
    "
    :columns="columns"
    :rows="rows"
    :row-key="({ day }) => day"
  />
</template>
