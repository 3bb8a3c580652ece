<script setup lang="ts">
import type { SurveyView } from '~~/shared/surveys/replies'
import { momentInWords } from '~/data/surveyDraft'
import type { TableColumn } from '~/data/tableColumn'
import { pageRulesInWords } from '~~/core/targeting/pageWords'

/** A site's surveys, with how many were asked and answered in some days. */
type Row = SurveyView & { asked: number; answered: number }
const props = defineProps<{ siteId: number; surveys: readonly Row[]; timeZone: string; mayEdit: boolean }>()
const emit = defineEmits<{ remove: [survey: SurveyView] }>()
const route = useRoute()
const place = ({ id, state }: Row) => ({
  path: `/sites/${props.siteId}/evidence/surveys/${id}`,
  query: state === 'draft' ? { ...route.query, part: 'edit' } : route.query,
})
const rate = ({ asked, answered }: Row) => (asked === 0 ? null : answered / asked)
const columns: TableColumn<Row>[] = [
  { id: 'name', header: 'Survey', value: ({ name }) => name, isHeading: true },
  { id: 'state', header: 'State', value: ({ state }) => state },
  { id: 'questions', header: 'Questions', value: ({ content }) => content.questions.length, isNumeric: true },
  { id: 'where', header: 'Pages', value: ({ content }) => pageRulesInWords(content.pages) },
  { id: 'moment', header: 'Shown', value: ({ content }) => momentInWords(content.moment), isUnsorted: true },
  {
    id: 'asked',
    header: 'Asked',
    value: ({ asked }) => asked,
    show: ({ asked }) => formatCount(asked),
    isNumeric: true,
  },
  {
    id: 'answered',
    header: 'Answered',
    isNumeric: true,
    value: ({ answered }) => answered,
    show: ({ answered }) => formatCount(answered),
  },
  { id: 'rate', header: 'Of those asked', value: rate, show: (row) => formatShare(rate(row), 1), isNumeric: true },
  {
    id: 'started',
    header: 'Started',
    isExtra: true,
    value: ({ startedAt }) => startedAt,
    show: ({ startedAt }) => (startedAt ? formatDate(startedAt, props.timeZone) : '–'),
  },
  { id: 'actions', header: 'Actions', value: () => null, isDrawing: true },
]
</script>

<template>
  <DataTable label="Surveys" :columns="columns" :rows="surveys" :row-key="({ id }) => id">
    <template #cell-name="{ row }">
      <NuxtLink :to="place(row)" class="font-medium text-accent hover:underline">{{ row.name }}</NuxtLink>
    </template>
    <template #cell-state="{ row }"><StateBadge :state="row.state" /></template>
    <template #cell-actions="{ row }">
      <BaseButton
        v-if="mayEdit && row.state === 'draft' && !row.startedAt"
        kind="quiet"
        :aria-label="`Delete ${row.name}`"
        @click="emit('remove', row)"
        >Delete</BaseButton
      >
    </template>
  </DataTable>
</template>
