<script setup lang="ts">
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import type { ExperimentResults } from '~~/shared/experiments/resultsReplies'
import { daysFrom, siteDays } from '~~/core/time/siteDay'
import { linesChart } from '~/charts/linesChart'
import type { TableColumn } from '~/data/tableColumn'

/** Of a split that moves: who got how much of the new visitors, and what came of them, period by period. */
const props = defineProps<{ sheet: ExperimentSheet; results: ExperimentResults }>()
/** One variant in one period. */
interface Row {
  period: number
  since: string
  variant: string
  share: number
  chance: number | null
  visitors: number
  mean: number | null
}
const primary = computed(() => props.sheet.metrics.find(({ role }) => role === 'primary') ?? null)
const periods = computed(() => props.sheet.periods)
const rows = computed(() =>
  periods.value.flatMap(({ since, shares, chances }, index) =>
    props.sheet.variants.map(({ name }, position): Row => ({
      period: index + 1,
      since,
      variant: name,
      share: shares[position] ?? 0,
      chance: chances?.[position] ?? null,
      visitors: props.results.periods[index]?.visitors[position] ?? 0,
      mean: props.results.periods[index]?.means[position] ?? null,
    })),
  ),
)
/** The shares that stood at the end of each day of the run. */
const days = computed(() => {
  const dayOf = siteDays(props.sheet.timeZone)
  const began = periods.value.map(({ since, shares }) => ({ day: dayOf(Date.parse(since)), shares }))
  const end = props.sheet.endedAt === null ? Date.now() : Date.parse(props.sheet.endedAt)
  return daysFrom(began[0]!.day, dayOf(end)).map((day) => ({
    day,
    shares: began.findLast((period) => period.day <= day)!.shares,
  }))
})
const lines = computed(() =>
  props.sheet.variants.map(({ name }, position) => ({
    name,
    label: variantLetter(position),
    position,
    values: days.value.map(({ day, shares }) => ({ day, value: shares[position] ?? null })),
  })),
)
const percent = (share: number) => formatShare(share, 1)
const columns = computed<TableColumn<Row>[]>(() => [
  {
    id: 'since',
    header: 'Since',
    value: ({ since }) => since,
    show: ({ since }) => formatTime(since, props.sheet.timeZone),
    isHeading: true,
  },
  { id: 'variant', header: 'Variant', value: ({ variant }) => variant },
  { id: 'share', header: 'Share', value: ({ share }) => share, show: ({ share }) => percent(share), isNumeric: true },
  {
    id: 'visitors',
    header: 'Visitors',
    value: ({ visitors }) => visitors,
    show: ({ visitors }) => formatCount(visitors),
    isNumeric: true,
  },
  {
    id: 'mean',
    header: primary.value?.name ?? 'Value',
    value: ({ mean }) => mean,
    show: ({ mean }) => (primary.value ? formatMetric(primary.value, mean, props.sheet.currency) : '–'),
    isNumeric: true,
  },
  {
    id: 'chance',
    header: 'Chance to be best, by then',
    value: ({ chance }) => chance,
    show: ({ chance }) => (chance === null ? '–' : percent(chance)),
    isNumeric: true,
  },
])
const summary = computed(() => {
  const latest = periods.value.at(-1)!
  const shares = props.sheet.variants
    .map(({ name }, position) => `${name} ${percent(latest.shares[position] ?? 0)}`)
    .join(', ')
  return `Of new visitors: ${shares}, in period ${periods.value.length}.`
})
const when = computed(() => {
  const batch = props.sheet.plan.batchVisitors ?? null
  return batch === null ? 'each day' : `after every ${formatCount(batch)} visitors`
})
</script>

<template>
  <section class="flex flex-col gap-3" data-testid="moving-split">
    <h3>The split moves</h3>
    <p class="max-w-[72ch] text-sm">{{ summary }}</p>
    <p class="max-w-[72ch] text-sm text-ink-soft">
      It moves {{ when }}, for new visitors alone. Each period is read by itself, and parts of the visitors are not
      compared.
    </p>
    <ChartFrame
      title="Share of new visitors"
      :note="`At the end of each day; ${sheet.timeZone}`"
      :summary="summary"
      :draw="(tokens) => linesChart({ lines, unit: 'share', format: percent }, tokens)"
      :columns="columns"
      :rows="rows"
      :row-key="({ period, variant }) => `${period} ${variant}`"
    />
  </section>
</template>
