<script setup lang="ts">
import type { PastDryRunView } from '~~/shared/audiences/replies'
import { allSheets } from '~/data/allSheets'
import type { TableColumn } from '~/data/tableColumn'

/** What would have become of the visitors of the last week with an experiment. */
const props = defineProps<{ siteId: number }>()
const api = useApi()
const { value: experiments } = useLoaded(async () => {
  const all = await allSheets(api, props.siteId)
  return all.filter(({ state }) => state !== 'ended')
})
const chosen = useQueryChoice('experiment', () => ['', ...(experiments.value ?? []).map(({ id }) => String(id))])
const choices = computed(() => [
  { value: '', label: 'Choose an experiment' },
  ...(experiments.value ?? []).map(({ id, name }) => ({ value: String(id), label: name })),
])
const {
  value: view,
  problem,
  isLoading,
  reload,
} = useLoaded<PastDryRunView | null>(async () =>
  chosen.value === '' ? null : api('dryRunPast', { site: props.siteId, experiment: Number(chosen.value) }),
)
watch(chosen, reload)

const REASONS = {
  page: 'not on its pages',
  audience: 'not in the audience',
  person: 'not named by the page',
  holdout: 'kept out by a holdout',
  test: 'left to a test beside it',
  group: 'in the part of another experiment of its group',
  share: 'outside of the traffic share',
  waits: 'waiting',
}
interface Row {
  words: string
  visitors: number
  isPart: boolean
}
const rows = computed<Row[]>(() => {
  if (!view.value) return []
  const { entered, variants, reasons, conditions } = view.value
  return [
    { words: 'would have taken part', visitors: entered, isPart: false },
    ...variants.map(({ name, visitors }) => ({ words: name, visitors, isPart: true })),
    ...reasons.flatMap(({ reason, visitors }) => [
      { words: REASONS[reason], visitors, isPart: false },
      ...(reason === 'audience'
        ? conditions
            .filter((each) => each.visitors > 0)
            .map((each) => ({ ...each, words: `not: ${each.words}`, isPart: true }))
        : []),
    ]),
  ]
})
const columns = computed<TableColumn<Row>[]>(() => [
  {
    id: 'words',
    header: 'Visitors of the last week',
    isHeading: true,
    isUnsorted: true,
    value: ({ words }) => words,
  },
  { id: 'visitors', header: 'Visitors', value: ({ visitors }) => visitors, isNumeric: true, isUnsorted: true },
  {
    id: 'share',
    header: 'Share',
    isNumeric: true,
    isUnsorted: true,
    value: ({ visitors }) => visitors / Math.max(1, view.value?.looked ?? 0),
    show: ({ visitors }) => formatShare(visitors / Math.max(1, view.value?.looked ?? 0), 1),
  },
])
</script>

<template>
  <div class="flex flex-col gap-4">
    <ChoiceField v-model="chosen" class="w-80" label="Experiment" :choices="choices" />
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="isLoading && !view" />
    <template v-else-if="view">
      <p class="max-w-[72ch]">
        <strong>{{ formatCount(Math.round(view.aDay)) }} visitors a day</strong> would take part<template
          v-if="view.weeks !== null"
          >: the plan takes
          {{ view.weeks < 1 ? 'less than a week' : `about ${formatCount(Math.ceil(view.weeks))} weeks` }} at this
          pace</template
        >.
        <template v-if="view.looked < view.visitors"
          >By {{ formatCount(view.looked) }} of {{ formatCount(view.visitors) }} visitors of the last week.</template
        >
        <template v-if="view.unknown.length > 0">
          Past data does not say {{ view.unknown.join(', ') }}: so no visitor counts as having it.
        </template>
      </p>
      <DataTable label="Dry run of the last week" :columns="columns" :rows="rows" :row-key="({ words }) => words">
        <template #cell-words="{ row }"
          ><span :class="row.isPart ? 'pl-5 text-ink-soft' : ''">{{ row.words }}</span></template
        >
      </DataTable>
    </template>
  </div>
</template>
