<script setup lang="ts">
import { DAY } from '~~/core/time/units'
/** Weeks beside each other, a row for each test: what runs already, and what is planned. */
export interface CalendarRow {
  key: string
  label: string
  to: string
  note: string
  /** In weeks from the beginning of the plan. */
  from: number
  until: number
  isRunning: boolean
}
const props = defineProps<{ rows: readonly CalendarRow[]; weeks: number; begin: number; timeZone: string }>()
const WEEK = 7 * DAY
const heads = computed(() =>
  Array.from({ length: props.weeks }, (_, week) => {
    const at = new Date(props.begin + week * WEEK)
    return new Intl.DateTimeFormat('en-US', { month: 'short', day: 'numeric', timeZone: props.timeZone }).format(at)
  }),
)
</script>

<template>
  <div class="overflow-x-auto" tabindex="0" role="region" aria-label="Calendar">
    <table class="w-full border-collapse text-sm" aria-label="Plan by week">
      <thead>
        <tr>
          <th scope="col" class="pr-3 pb-1 text-left font-medium text-ink-soft">Test</th>
          <th
            v-for="(head, week) in heads"
            :key="week"
            scope="col"
            class="min-w-11 border-l border-line px-1 pb-1 text-left font-medium text-ink-soft"
          >
            {{ head }}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.key" class="border-t border-line">
          <th scope="row" class="max-w-64 py-1.5 pr-3 text-left font-normal">
            <NuxtLink :to="row.to" class="text-accent hover:underline">{{ row.label }}</NuxtLink>
            <span class="block text-xs text-ink-soft">{{ row.note }}</span>
          </th>
          <td v-if="row.from > 0" :colspan="row.from" class="border-l border-line" />
          <td :colspan="row.until - row.from" class="border-l border-line py-1.5">
            <span
              class="block rounded border px-1.5 py-1 text-xs whitespace-nowrap"
              :class="row.isRunning ? 'border-dashed border-line-strong bg-neutral-soft' : 'border-pine bg-pine-soft'"
              >{{ row.isRunning ? 'runs' : `${row.until - row.from} w` }}</span
            >
          </td>
          <td v-if="row.until < weeks" :colspan="weeks - row.until" class="border-l border-line" />
        </tr>
      </tbody>
    </table>
  </div>
</template>
