<script setup lang="ts">
import type { EventsView } from '~~/shared/evidence/replies'
import type { TableColumn } from '~/data/tableColumn'
import type { StepKind } from '~~/core/evidence/visits'

/** Every kind of event that arrived: how many, by day, and when it was last seen. */
const props = defineProps<{ siteId: number; report: EventsView; timeZone: string }>()
const sampled = shallowRef<Kind | null>(null)
type Kind = EventsView['kinds'][number]
const WORDS: Record<StepKind, string> = {
  page: 'page view',
  click: 'click',
  submit: 'sent form',
  amount: 'amount read off the page',
  custom: 'event of the page',
  error: 'error of the page',
  rage: 'rage click',
  dead: 'dead click',
  reading: 'reading',
  form: 'form in view',
  field: 'field left',
  asked: 'survey shown',
  answer: 'survey answered',
}
const columns: TableColumn<Kind>[] = [
  { id: 'kind', header: 'Kind', value: ({ kind, name }) => `${WORDS[kind]} ${name ?? ''}`.trim(), isHeading: true },
  {
    id: 'count',
    header: 'Count',
    value: ({ count }) => count,
    show: ({ count }) => formatCount(count),
    isNumeric: true,
  },
  {
    id: 'visitors',
    header: 'Visitors',
    isNumeric: true,
    value: ({ visitors }) => visitors,
    show: ({ visitors }) => formatCount(visitors),
  },
  { id: 'trend', header: 'By day', value: () => null, isDrawing: true },
  {
    id: 'last',
    header: 'Last seen',
    value: ({ last }) => last,
    show: ({ last }) => formatTime(new Date(last).toISOString(), props.timeZone),
  },
  { id: 'page', header: 'On', value: ({ page }) => page },
]
</script>

<template>
  <DataTable
    label="Kinds of events"
    :columns="columns"
    :rows="report.kinds"
    :row-key="({ kind, name }) => `${kind} ${name}`"
  >
    <template #cell-kind="{ row }">
      <button
        type="button"
        class="font-medium text-accent hover:underline"
        :aria-label="`Sample of: ${WORDS[row.kind]} ${row.name ?? ''}`"
        @click="sampled = row"
      >
        {{ WORDS[row.kind] }}
      </button>
      <code v-if="row.name" class="ml-2 font-mono text-xs break-all">{{ row.name }}</code>
    </template>
    <template #cell-trend="{ row }"><SparkLine :values="row.days" :label="`${WORDS[row.kind]} by day`" /></template>
    <template #cell-page="{ row }"
      ><span class="break-all">{{ row.page }}</span></template
    >
  </DataTable>
  <EventSample
    v-if="sampled"
    :key="`${sampled.kind} ${sampled.name}`"
    :site-id="siteId"
    :kind="sampled.kind"
    :name="sampled.name"
    :title="`${WORDS[sampled.kind]} ${sampled.name ?? ''}`"
    :from="report.days[0]!"
    :to="report.days.at(-1)!"
    :time-zone="timeZone"
    @close="sampled = null"
  />
</template>
