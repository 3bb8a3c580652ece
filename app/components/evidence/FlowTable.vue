<script setup lang="ts">
import type { TableColumn } from '~/data/tableColumn'
import type { FlowView } from '~~/shared/evidence/reports'

/** What was opened before or after a page, with its share of the views. */
const props = defineProps<{ label: string; flows: FlowView['before']; nothing: string }>()
type Flow = FlowView['before'][number]
const total = computed(() => props.flows.reduce((sum, { views }) => sum + views, 0))
const columns = computed<TableColumn<Flow>[]>(() => [
  { id: 'name', header: props.label, value: ({ name }) => name ?? props.nothing, isHeading: true },
  {
    id: 'views',
    header: 'Times',
    value: ({ views }) => views,
    show: ({ views }) => formatCount(views),
    isNumeric: true,
  },
  {
    id: 'share',
    header: 'Share',
    isNumeric: true,
    value: ({ views }) => views / total.value,
    show: ({ views }) => formatShare(views / total.value, 1),
  },
])
</script>

<template>
  <DataTable :label="label" :columns="columns" :rows="flows" :row-key="({ name }) => name ?? ''" is-plain>
    <template #cell-name="{ row }">
      <span class="break-all" :class="{ 'text-ink-soft': row.name === null }">{{ row.name ?? nothing }}</span>
    </template>
  </DataTable>
</template>
