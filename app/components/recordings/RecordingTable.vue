<script setup lang="ts">
import type { RecordedStrip } from '~~/shared/recordings/replies'
import { durationInWords } from '~/data/durations'
import type { TableColumn } from '~/data/tableColumn'

/** Recorded sessions, each as a strip, the latest first. */
const props = defineProps<{ siteId: number; recordings: readonly RecordedStrip[]; timeZone: string }>()
const route = useRoute()
const place = ({ visitor, session }: RecordedStrip) => ({
  path: `/sites/${props.siteId}/evidence/recordings/${visitor}/${session}`,
  query: route.query,
})
const entry = ({ pages }: RecordedStrip) => pages[0]?.page ?? '–'
const when = ({ began }: RecordedStrip) => formatTime(new Date(began).toISOString(), props.timeZone)
const columns: TableColumn<RecordedStrip>[] = [
  { id: 'when', header: 'Began', value: ({ began }) => began, show: when, isHeading: true },
  { id: 'strip', header: 'Visit', value: () => null, isDrawing: true },
  {
    id: 'length',
    header: 'Length',
    isNumeric: true,
    value: ({ length }) => length,
    show: ({ length }) => durationInWords(length),
  },
  { id: 'pages', header: 'Pages', value: ({ pages }) => pages.length, isNumeric: true },
  { id: 'entry', header: 'Entered at', value: entry },
  { id: 'device', header: 'Device', value: ({ device }) => device },
  { id: 'country', header: 'Country', value: ({ country }) => country },
  { id: 'source', header: 'Source', value: ({ source }) => source, isExtra: true },
  { id: 'notes', header: 'Notes', value: ({ notes }) => notes, isNumeric: true },
  { id: 'visitor', header: 'Visitor', value: ({ visitor }) => visitor, isExtra: true },
]
</script>

<template>
  <DataTable
    label="Recordings"
    :columns="columns"
    :rows="recordings"
    :row-key="({ visitor, session }) => `${visitor} ${session}`"
  >
    <template #cell-when="{ row }">
      <NuxtLink :to="place(row)" class="font-medium whitespace-nowrap text-accent hover:underline">{{
        when(row)
      }}</NuxtLink>
    </template>
    <template #cell-strip="{ row }"><VisitStrip :strip="row" /></template>
    <template #cell-entry="{ row }"
      ><span class="break-all">{{ entry(row) }}</span></template
    >
  </DataTable>
</template>
