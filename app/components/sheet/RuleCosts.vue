<script setup lang="ts">
import type { TableColumn } from '~/data/tableColumn'
import type { RuleCost } from '~~/core/sheet/planReading'
import { ruleLabel } from '~/sheets/ruleWords'

/** What each rule costs in visitors and weeks, to choose by. */
const props = defineProps<{ costs: readonly RuleCost[]; smallestLift: number; visitorsAWeek: number | null }>()
const weeks = (visitors: number) => (props.visitorsAWeek ? visitors / props.visitorsAWeek : null)
const weeksInWords = (visitors: number) => {
  const value = weeks(visitors)
  return value === null ? 'not known' : value < 10 ? value.toFixed(1) : formatCount(Math.round(value))
}
const number = (id: string, header: string, value: (cost: RuleCost) => number) => [
  {
    id,
    header: `Visitors ${header}`,
    value: (cost: RuleCost) => Math.round(value(cost)),
    show: (cost: RuleCost) => formatCount(Math.round(value(cost))),
    isNumeric: true,
  },
  {
    id: `${id}-weeks`,
    header: `Weeks ${header}`,
    value: (cost: RuleCost) => weeks(value(cost)),
    show: (cost: RuleCost) => weeksInWords(value(cost)),
    isNumeric: true,
  },
]
const columns: readonly TableColumn<RuleCost>[] = [
  { id: 'rule', header: 'Rule', value: ({ rule }) => ruleLabel(rule), isHeading: true },
  ...number('average', 'on average', ({ onAverage }) => onAverage),
  ...number('most', 'at most', ({ atMost }) => atMost),
]
</script>

<template>
  <details class="mt-3" data-testid="rule-costs">
    <summary class="cursor-pointer font-medium">What each rule costs</summary>
    <p class="max-w-[72ch] text-sm text-ink-soft">
      To find a lift of {{ formatPercent(smallestLift) }} in 80 of 100 runs, where the lift is really so large.
    </p>
    <DataTable label="What each rule costs" :columns="columns" :rows="costs" :row-key="({ rule }) => rule" />
  </details>
</template>
