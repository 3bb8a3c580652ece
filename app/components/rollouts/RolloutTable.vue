<script setup lang="ts">
import type { RolloutView } from '~~/shared/rollouts/replies'
import { BUCKETS } from '~~/core/assignment/assignment'
import { pageRulesInWords } from '~~/core/targeting/pageWords'
import type { TableColumn } from '~/data/tableColumn'

/** What Vetch serves of what experiments kept. */
const props = defineProps<{ siteId: number; rollouts: readonly RolloutView[]; timeZone: string }>()
const columns: TableColumn<RolloutView>[] = [
  { id: 'name', header: 'Rollout', value: ({ name }) => name, isHeading: true },
  { id: 'variant', header: 'Serves', value: ({ variant }) => variant.name },
  { id: 'pages', header: 'Pages', value: ({ pageRules }) => pageRulesInWords(pageRules) },
  {
    id: 'share',
    header: 'Share',
    isNumeric: true,
    value: ({ share }) => share / BUCKETS,
    show: ({ share }) => formatPercent(share / BUCKETS),
  },
  {
    id: 'visitors',
    header: 'Visitors, 7 days',
    isNumeric: true,
    value: ({ visitors }) => visitors,
    show: ({ visitors }) => formatCount(visitors),
  },
  {
    id: 'since',
    header: 'Since',
    value: ({ createdAt }) => createdAt,
    show: ({ createdAt }) => formatDate(createdAt, props.timeZone),
  },
  { id: 'state', header: 'State', value: ({ isOn }) => (isOn ? 'served' : 'stopped') },
]
</script>

<template>
  <DataTable label="Rollouts" :columns="columns" :rows="rollouts" :row-key="({ id }) => id">
    <template #cell-name="{ row }">
      <NuxtLink :to="`/sites/${siteId}/rollouts/${row.id}`" class="text-accent hover:underline">{{
        row.name
      }}</NuxtLink>
    </template>
    <template #cell-variant="{ row }"><VariantMark :position="row.variant.position" /> {{ row.variant.name }}</template>
  </DataTable>
</template>
