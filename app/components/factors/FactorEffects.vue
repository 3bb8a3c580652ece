<script setup lang="ts">
import type { ExperimentSheet, MetricView } from '~~/shared/experiments/replies'
import type { FactorialEffect, FactorialReading, LevelContrast } from '~~/core/statistics/factorial'
import { intervalColumns } from '~/data/intervalColumns'
import type { TableColumn } from '~/data/tableColumn'

/** What each factor does to a metric on average over the others, what two do together, and which combination is best. */
const props = defineProps<{
  metric: MetricView
  reading: FactorialReading
  sheet: ExperimentSheet
  domain: [number, number]
}>()
const interactions = computed(() => props.reading.effects.filter(({ factors }) => factors.length > 1))
const best = computed(() => props.reading.bestCell)
const bestName = computed(() =>
  Object.entries(best.value?.levels ?? {})
    .map(([factor, level]) => `${factor}: ${level}`)
    .join(', '),
)
const value = (mean: number) => formatMetric(props.metric, mean, props.sheet.currency)
const columns: TableColumn<LevelContrast>[] = [
  { id: 'factor', header: 'Factor', value: ({ factor }) => factor },
  { id: 'level', header: 'Level', value: ({ level }) => level, isHeading: true },
  { id: 'lift', header: 'Lift', value: ({ lift }) => lift, show: ({ lift }) => formatLift(lift), isNumeric: true },
  { id: 'track', header: 'Track of the interval', value: () => null, isDrawing: true },
  ...intervalColumns<LevelContrast>(({ liftInterval }) => liftInterval),
  {
    id: 'p',
    header: 'p, corrected',
    value: ({ adjustedPValue }) => adjustedPValue,
    show: ({ adjustedPValue }) => formatPValue(adjustedPValue),
    isNumeric: true,
  },
]
const together: TableColumn<FactorialEffect>[] = [
  {
    id: 'levels',
    header: 'Levels together',
    value: ({ factors, levels }) => factors.map((factor, place) => `${factor}: ${levels[place]}`).join(' × '),
    isHeading: true,
  },
  {
    id: 'estimate',
    header: 'More than apart',
    value: ({ estimate }) => estimate,
    show: ({ estimate }) => value(estimate),
    isNumeric: true,
  },
  ...intervalColumns<FactorialEffect>(({ interval }) => interval, { show: (end) => value(end ?? 0) }),
  { id: 'p', header: 'p', value: ({ pValue }) => pValue, show: ({ pValue }) => formatPValue(pValue), isNumeric: true },
]
</script>

<template>
  <section class="flex flex-col gap-3" aria-label="What each factor does">
    <h4>
      What each factor does
      <span class="text-sm font-normal text-ink-soft"
        >against its first level, on average over the others; for one look, at the end</span
      >
    </h4>
    <p v-if="reading.why" class="text-ink-soft">{{ reading.why }}</p>
    <template v-else>
      <DataTable
        :label="`${metric.name} by factor`"
        :columns="columns"
        :rows="reading.contrasts"
        :row-key="(row) => `${row.factor} ${row.level}`"
      >
        <template #cell-track="{ row }">
          <IntervalTrack
            small
            :interval="row.liftInterval"
            :estimate="row.lift"
            :smallest-lift="sheet.plan.smallestLift"
            :domain="domain"
            :direction="metric.direction"
            :harm-limit="metric.limit"
          />
        </template>
      </DataTable>
      <p v-if="best">
        Best combination: <strong>{{ bestName }}</strong>, fitted at {{ value(best.fitted) }} ({{
          value(best.interval[0])
        }}
        to {{ value(best.interval[1]) }}), seen by {{ formatCount(best.visitors) }} visitors.
      </p>
      <details v-if="interactions.length > 0">
        <summary class="cursor-pointer text-ink-soft">What levels do together</summary>
        <DataTable
          class="mt-2"
          :label="`${metric.name}, levels together`"
          :columns="together"
          :rows="interactions"
          :row-key="(row) => [...row.factors, ...row.levels].join(' ')"
        />
      </details>
    </template>
  </section>
</template>
