<script setup lang="ts">
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import type { ExperimentResults } from '~~/shared/experiments/resultsReplies'
import { siteDays } from '~~/core/time/siteDay'
import { linesChart } from '~/charts/linesChart'
import type { TableColumn } from '~/data/tableColumn'

/** Of a split that moves: who got how much of the new visitors, and what came of them, period by period. */
const props = defineProps<{ sheet: ExperimentSheet; results: ExperimentResults }>()
interface Period {
  number: number
  since: string
  shares: number[]
  chances: number[] | null
  visitors: number[]
  means: (number | null)[]
}
const primary = computed(() => props.sheet.metrics.find(({ role }) => role === 'primary') ?? null)
const periods = computed(() =>
  props.results.periods.flatMap((counted, index): Period[] => {
    const period = props.sheet.periods[index]
    return period ? [{ number: index + 1, ...period, ...counted }] : []
  }),
)
const dayOf = computed(() => siteDays(props.sheet.timeZone))
const lines = computed(() =>
  props.sheet.variants.map(({ name }, position) => ({
    name,
    label: variantLetter(position),
    position,
    values: periods.value.map(({ since, shares }) => ({
      day: dayOf.value(Date.parse(since)),
      value: shares[position] ?? null,
    })),
  })),
)
const percent = (share: number) => formatShare(share, 1)
const columns = computed<TableColumn<Period>[]>(() => [
  {
    id: 'since',
    header: 'Since',
    value: ({ since }) => since,
    show: ({ since }) => formatTime(since, props.sheet.timeZone),
    isHeading: true,
  },
  ...props.sheet.variants.flatMap(({ id, name }, position): TableColumn<Period>[] => [
    {
      id: `share-${id}`,
      header: `Share, ${name}`,
      value: ({ shares }) => shares[position]!,
      show: ({ shares }) => percent(shares[position]!),
      isNumeric: true,
    },
    {
      id: `visitors-${id}`,
      header: `Visitors, ${name}`,
      value: ({ visitors }) => visitors[position]!,
      show: ({ visitors }) => formatCount(visitors[position]!),
      isNumeric: true,
    },
    {
      id: `mean-${id}`,
      header: `${primary.value?.name ?? 'Value'}, ${name}`,
      value: ({ means }) => means[position] ?? null,
      show: ({ means }) =>
        primary.value ? formatMetric(primary.value, means[position] ?? null, props.sheet.currency) : '–',
      isNumeric: true,
    },
    {
      id: `chance-${id}`,
      header: `Chance to be best, ${name}`,
      value: ({ chances }) => chances?.[position] ?? null,
      show: ({ chances }) => (chances ? percent(chances[position]!) : '–'),
      isNumeric: true,
    },
  ]),
])
const latest = computed(() => periods.value.at(-1) ?? null)
const summary = computed(() => {
  const shares = props.sheet.variants
    .map(({ name }, position) => `${name} ${percent(latest.value?.shares[position] ?? 0)}`)
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
      :note="`By the day a period began; ${sheet.timeZone}`"
      :summary="summary"
      :draw="(tokens) => linesChart({ lines, unit: 'share', format: percent }, tokens)"
      :columns="columns"
      :rows="periods"
      :row-key="({ number }) => number"
    />
  </section>
</template>
