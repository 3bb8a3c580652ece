<script setup lang="ts">
import type { FindingSummary } from '~~/shared/findings/replies'
import { SOURCE_WORDS } from '~/data/findingDraft'
import type { TableColumn } from '~/data/tableColumn'
import { SEVERITIES } from '~~/shared/findings/finding'

/** Findings, each with its picture; several may be chosen to be merged. */
const props = defineProps<{ siteId: number; findings: readonly FindingSummary[]; timeZone: string; mayEdit: boolean }>()
const chosen = defineModel<number[]>('chosen', { required: true })
const place = ({ id }: FindingSummary) => `/sites/${props.siteId}/evidence/findings/${id}`
const turn = (id: number) =>
  (chosen.value = chosen.value.includes(id) ? chosen.value.filter((each) => each !== id) : [...chosen.value, id])
const columns: TableColumn<FindingSummary>[] = [
  ...(props.mayEdit ? [{ id: 'choose', header: 'Choose', value: () => null, isDrawing: true }] : []),
  { id: 'picture', header: 'Picture', value: () => null, isDrawing: true },
  { id: 'title', header: 'Finding', value: ({ title }) => title, isHeading: true },
  {
    id: 'severity',
    header: 'Severity',
    value: ({ severity }) => SEVERITIES.indexOf(severity),
    show: ({ severity }) => severity,
  },
  { id: 'state', header: 'State', value: ({ state }) => state },
  { id: 'page', header: 'Page', value: ({ page }) => page },
  { id: 'tags', header: 'Tags', value: ({ tags }) => tags.join(', ') || null },
  { id: 'source', header: 'From', value: ({ source }) => SOURCE_WORDS[source] },
  { id: 'person', header: 'By', value: ({ person }) => person, isExtra: true },
  {
    id: 'created',
    header: 'On',
    value: ({ createdAt }) => createdAt,
    show: ({ createdAt }) => formatDate(createdAt, props.timeZone),
  },
  { id: 'merged', header: 'Merged into it', value: ({ merged }) => merged, isNumeric: true, isExtra: true },
]
</script>

<template>
  <DataTable label="Findings" :columns="columns" :rows="findings" :row-key="({ id }) => id">
    <template #cell-choose="{ row }">
      <input
        type="checkbox"
        class="accent-accent"
        :aria-label="`Choose ${row.title}`"
        :checked="chosen.includes(row.id)"
        @change="turn(row.id)"
      />
    </template>
    <template #cell-picture="{ row }">
      <img
        v-if="row.picture"
        :src="`/api/sites/${siteId}/findings/${row.id}/attachments/${row.picture}`"
        alt=""
        loading="lazy"
        class="h-10 w-16 border border-line object-cover object-top"
      />
    </template>
    <template #cell-title="{ row }">
      <NuxtLink :to="place(row)" class="block max-w-88 font-medium text-accent hover:underline">{{
        row.title
      }}</NuxtLink>
      <span v-if="row.merged > 0" class="text-sm text-ink-soft">noted {{ row.merged + 1 }} times</span>
    </template>
    <template #cell-created="{ row }"
      ><span class="whitespace-nowrap">{{ formatDate(row.createdAt, timeZone) }}</span></template
    >
    <template #cell-state="{ row }"
      ><span class="whitespace-nowrap">{{ row.state }}</span></template
    >
    <template #cell-page="{ row }"
      ><span class="font-mono text-xs break-all">{{ row.page ?? '–' }}</span></template
    >
  </DataTable>
</template>
