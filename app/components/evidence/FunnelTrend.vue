<script setup lang="ts">
import type { FunnelView } from '~~/shared/evidence/replies'
import { linesChart } from '~/charts/linesChart'
import type { TableColumn } from '~/data/tableColumn'

/** Of those who began on a day, how many came to the end. */
const props = defineProps<{
  report: FunnelView
  other: FunnelView | null
  name: string
  otherName: string
  timeZone: string
}>()
interface Day {
  day: string
  began: number
  ended: number
}
const rows = computed<Day[]>(() =>
  props.report.dayNames.map((day, index) => ({
    day,
    began: props.report.days.began[index]!,
    ended: props.report.days.ended[index]!,
  })),
)
const rate = ({ began, ended }: Day) => (began === 0 ? null : ended / began)
const columns: TableColumn<Day>[] = [
  { id: 'day', header: 'Day', value: ({ day }) => day, isHeading: true },
  {
    id: 'began',
    header: 'Began',
    value: ({ began }) => began,
    show: ({ began }) => formatCount(began),
    isNumeric: true,
  },
  {
    id: 'ended',
    header: 'Completed',
    value: ({ ended }) => ended,
    show: ({ ended }) => formatCount(ended),
    isNumeric: true,
  },
  { id: 'rate', header: 'Share', value: rate, show: (row) => formatShare(rate(row), 1), isNumeric: true },
]
const lines = computed(() => {
  const name = props.other ? props.name : 'Share'
  const own = {
    name,
    label: props.other ? name : '',
    position: null,
    values: rows.value.map((row) => ({ day: row.day, value: rate(row) })),
  }
  if (!props.other) return [own]
  // Day by day beside it, also where they are other days.
  const { began, ended } = props.other.days
  const values = rows.value.map(({ day }, index) => ({
    day,
    value: rate({ day, began: began[index] ?? 0, ended: ended[index] ?? 0 }),
  }))
  return [own, { name: props.otherName, label: props.otherName, position: 0, values }]
})
const unfinished = unfinishedDay(props.timeZone)
</script>

<template>
  <ChartFrame
    title="Completion rate"
    :note="`By the day of the first step; ${timeZone}`"
    summary="The completion rate by the day of the first step."
    :draw="(tokens) => linesChart({ lines, unit: '', format: (share) => formatShare(share, 1), unfinished }, tokens)"
    :columns="columns"
    :rows="rows"
    :row-key="({ day }) => day"
  />
</template>
