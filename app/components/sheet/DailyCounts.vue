<script setup lang="ts">
import type { DayView } from '~~/shared/experiments/resultsReplies'
import type { ExperimentSheet, MetricView } from '~~/shared/experiments/replies'
import { linesChart } from '~/charts/linesChart'
import type { TableColumn } from '~/data/tableColumn'

/** What the visitors of each day brought, by variant. */
const props = defineProps<{ sheet: ExperimentSheet; metric: MetricView; days: readonly DayView[] }>()
const counted = computed(() => (props.metric.kind === 'conversion' ? 'conversions' : props.metric.name.toLowerCase()))
const format = (value: number) => formatSum(props.metric, value, props.sheet.currency)
const sumOf = (day: DayView, position: number) =>
  day.metrics.find(({ metricVersionId }) => metricVersionId === props.metric.versionId)?.arms[position]?.sum ?? null
const lines = computed(() =>
  props.sheet.variants.map(({ name }, position) => ({
    name,
    label: variantLetter(position),
    position,
    values: props.days.map((day) => ({ day: day.day, value: sumOf(day, position) })),
  })),
)
const columns = computed<TableColumn<DayView>[]>(() => [
  { id: 'day', header: 'Day', value: ({ day }) => day, isHeading: true },
  ...props.sheet.variants.flatMap(({ id, name }, position): TableColumn<DayView>[] => [
    {
      id: `visitors-${id}`,
      header: `Visitors, ${name}`,
      value: ({ visitors }) => visitors[position]!,
      show: ({ visitors }) => formatCount(visitors[position]!),
      isNumeric: true,
    },
    {
      id: `sum-${id}`,
      header: `${props.metric.kind === 'conversion' ? 'Conversions' : 'Sum'}, ${name}`,
      value: (day) => sumOf(day, position),
      show: (day) => format(sumOf(day, position) ?? 0),
      isNumeric: true,
    },
  ]),
])
const summary = computed(
  () => `${props.metric.name} a day by variant, on ${props.days.length} day${props.days.length === 1 ? '' : 's'}.`,
)
const unfinished = unfinishedDay(props.sheet.timeZone)
</script>

<template>
  <ChartFrame
    :title="`${metric.name} a day`"
    :note="`By the day of the first exposure; ${sheet.timeZone}`"
    :summary="summary"
    :draw="(tokens) => linesChart({ lines, unit: counted, format, unfinished }, tokens)"
    :columns="columns"
    :rows="days"
    :row-key="({ day }) => day"
  />
</template>
