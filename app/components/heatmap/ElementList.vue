<script setup lang="ts">
import { elementInWords } from '~~/core/measurement/elementInWords'
import type { TableColumn } from '~/data/tableColumn'
import type { ClickedElement } from '~~/core/evidence/clickMap'
import type { ClicksView } from '~~/shared/evidence/reports'
import type { Box } from '~~/shared/edits/pointing'

/** What was clicked, the most clicked first, and what of it the page does not have any more. */
const props = defineProps<{ report: ClicksView; boxes: readonly (Box | null)[] | null; label: string }>()
const pointed = defineModel<number | null>('pointed', { required: true })
type Row = ClickedElement & { index: number }
const rows = computed<Row[]>(() => props.report.elements.map((element, index) => ({ ...element, index })))
const isGone = ({ index }: Row) => props.boxes !== null && !props.boxes[index]
const columns: TableColumn<Row>[] = [
  { id: 'element', header: 'Element', value: elementInWords, isHeading: true },
  {
    id: 'clicks',
    header: 'Clicks',
    value: ({ clicks }) => clicks,
    show: ({ clicks }) => formatCount(clicks),
    isNumeric: true,
  },
  {
    id: 'share',
    header: 'Share',
    isNumeric: true,
    value: ({ clicks }) => clicks / props.report.clicks,
    show: ({ clicks }) => formatShare(clicks / props.report.clicks, 1),
  },
  {
    id: 'visitors',
    header: 'Visitors',
    isNumeric: true,
    value: ({ visitors }) => visitors,
    show: ({ visitors }) => formatCount(visitors),
  },
  { id: 'path', header: 'Path', value: ({ path }) => path, isExtra: true },
]
</script>

<template>
  <DataTable :label="label" :columns="columns" :rows="rows" :row-key="({ index }) => index">
    <template #cell-element="{ row }">
      <span
        class="block"
        :class="{ 'font-semibold text-accent': pointed === row.index }"
        @pointerenter="pointed = row.index"
        @pointerleave="pointed = null"
        >{{ elementInWords(row) }}
        <span v-if="isGone(row)" class="block text-sm font-normal text-ink-soft">not on the page that is shown</span>
      </span>
    </template>
    <template #cell-path="{ row }"
      ><code class="font-mono text-xs break-all">{{ row.path }}</code></template
    >
  </DataTable>
</template>
