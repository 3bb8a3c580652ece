<script setup lang="ts">
import { rankEffects } from '~~/core/analysis/effects'
import { shortfallInWords } from '~~/core/verdict/verdict'
import type { EffectRow } from '~/data/effectRow'
import type { TableColumn } from '~/data/tableColumn'

/** What changes do to every metric of the site: visitors with them against those without, what has moved first. */
const props = defineProps<{
  effects: readonly EffectRow[]
  alpha: number
  smallestLift: number
  /** What the two parts of the visitors are called, the one without the changes first. */
  parts: readonly [string, string]
}>()
const ranked = computed(() => rankEffects(props.effects, props.alpha))
type Effect = (typeof ranked.value)[number]
const domain = computed(() =>
  symmetricDomain(
    props.effects
      .flatMap(({ interval, promised }) => [...(interval ?? []), ...(promised?.interval ?? [])])
      .map(Math.abs),
    2 * props.smallestLift,
  ),
)
function inWords({ hasMoved, shortfall, lift, direction }: Effect): string {
  if (shortfall) return 'too little to read'
  if (!hasMoved) return 'not shown'
  return (lift ?? 0) > 0 === (direction === 'up') ? 'better' : 'worse'
}
const promisedColumn: TableColumn<Effect> = {
  id: 'promised',
  header: 'Sum of single lifts',
  isNumeric: true,
  value: ({ promised }) => promised?.estimate ?? null,
  show: ({ promised }) => formatLift(promised?.estimate ?? null),
}
const columns = computed<TableColumn<Effect>[]>(() => [
  { id: 'metric', header: 'Metric', value: ({ name }) => name, isHeading: true },
  ...props.parts.map((header, part): TableColumn<Effect> => ({
    id: header.toLowerCase().replace(/\W+/g, '-'),
    header,
    isNumeric: true,
    value: ({ means }) => means[part]!,
    show: ({ means, showMean }) => showMean(means[part]!),
  })),
  { id: 'lift', header: 'Lift', isNumeric: true, value: ({ lift }) => lift, show: ({ lift }) => formatLift(lift) },
  { id: 'track', header: 'Track', value: () => null, isDrawing: true },
  {
    id: 'interval',
    header: 'Interval',
    value: ({ interval }) => interval && interval.join(' to '),
    show: ({ interval }) => formatInterval(interval),
  },
  {
    id: 'p',
    header: 'p',
    isNumeric: true,
    value: ({ adjustedPValue }) => adjustedPValue,
    show: ({ adjustedPValue }) => formatPValue(adjustedPValue),
  },
  { id: 'words', header: 'Effect', value: (effect) => inWords(effect) },
  ...(props.effects.some(({ promised }) => promised !== undefined) ? [promisedColumn] : []),
])
</script>

<template>
  <div>
    <h3 class="mb-1">
      Effect on all metrics
      <span class="text-sm font-normal text-ink-soft"
        >p is corrected over {{ countOf(effects.length, 'metric') }}; intervals hold on any day</span
      >
    </h3>
    <DataTable label="Effect on all metrics" :columns="columns" :rows="ranked" :row-key="({ id }) => id">
      <template #cell-track="{ row }"
        ><span class="block w-20"
          ><IntervalTrack
            small
            :interval="row.interval"
            :estimate="row.lift"
            :smallest-lift="smallestLift"
            :domain="domain"
            :direction="row.direction"
            :harm-limit="row.harmLimit" /></span
      ></template>
      <template #cell-words="{ row }"
        ><span
          class="whitespace-nowrap"
          :class="row.hasMoved ? 'font-semibold' : 'text-ink-soft'"
          :title="row.shortfall ? shortfallInWords(row.shortfall) : undefined"
          >{{ inWords(row) }}</span
        ></template
      >
      <template #cell-interval="{ row }"
        ><span class="whitespace-nowrap">{{ formatInterval(row.interval) }}</span></template
      >
      <template #cell-promised="{ row }"
        ><span class="whitespace-nowrap" :title="row.promised ? formatInterval(row.promised.interval) : undefined">{{
          formatLift(row.promised?.estimate ?? null)
        }}</span></template
      >
    </DataTable>
  </div>
</template>
