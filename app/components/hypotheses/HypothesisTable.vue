<script setup lang="ts">
import type { EvidenceChoices } from '~~/shared/evidence/replies'
import type { HypothesisSummary } from '~~/shared/hypotheses/replies'
import {
  chanceInWords,
  gainInWords,
  ideaPages,
  rangeInWords,
  roundMoney,
  roundUnits,
  weeksInWords,
} from '~/data/ideaWords'
import type { TableColumn } from '~/data/tableColumn'
import { segmentInWords } from '~/composables/segmentNames'
import type { RankingTerms } from '~~/shared/hypotheses/hypothesis'

/** Hypotheses in their places, each with what it is worth and what it costs to learn. */
const props = defineProps<{
  siteId: number
  hypotheses: readonly HypothesisSummary[]
  metrics: IdeaMetrics
  terms: RankingTerms
  currency: string
  timeZone: string
  choices: EvidenceChoices | null
  mayEdit: boolean
}>()
const emit = defineEmits<{ move: [id: number, place: number] }>()
const sort = defineModel<string>('sort', { default: '' })
type Row = HypothesisSummary
const place = ({ id }: Row) => `/sites/${props.siteId}/hypotheses/${id}`
const metricOf = ({ metric }: Row) => (metric === null ? undefined : props.metrics.get(metric))
const rate = (row: Row) => {
  const metric = metricOf(row)
  return metric && row.assessment ? formatMetric(metric, row.assessment.figures.mean, props.currency) : '–'
}
const money = (amount: number) => roundMoney(amount, props.currency)
/** What a day of effort brings in a month. */
function perDay({ assessment, effortDays }: Row): string {
  const { moneyADay, gainADay } = assessment?.worth ?? {}
  if (moneyADay !== null && moneyADay !== undefined) return money(moneyADay)
  if (gainADay !== null && gainADay !== undefined) return roundUnits(gainADay)
  return assessment?.worth && effortDays === 0 ? 'no effort' : '–'
}
function gainRange({ assessment }: Row): string | null {
  const worth = assessment?.worth
  if (!worth) return null
  return worth.money ? rangeInWords(worth.money, money) : rangeInWords(worth.gain, roundUnits)
}
const isByScore = computed(() => props.terms.rankBy === 'score')
const number = (id: string, header: string, value: (row: Row) => number | null, show: (row: Row) => string) => ({
  id,
  header,
  value,
  show,
  isNumeric: true,
})
const columns = computed<TableColumn<Row>[]>(() => [
  { id: 'place', header: 'Place', value: (row) => row.place },
  { id: 'title', header: 'Hypothesis', value: ({ title }) => title, isHeading: true },
  { id: 'stage', header: 'Stage', value: ({ stage }) => stage },
  { id: 'pages', header: 'Pages', value: ({ pages }) => ideaPages(pages), isExtra: true },
  {
    id: 'audience',
    header: 'For',
    isExtra: true,
    value: ({ audience }) => segmentInWords(audience ?? undefined, props.choices),
  },
  { id: 'metric', header: 'Metric', value: (row) => metricOf(row)?.name ?? null, isExtra: true },
  number(
    'reach',
    'Visitors a week',
    (row) => row.assessment?.worth?.visitorsAWeek ?? (row.assessment ? row.assessment.figures.visitors / 4 : null),
    (row) => (row.assessment ? formatCount(Math.round(row.assessment.figures.visitors / 4)) : '–'),
  ),
  number('rate', 'Now', (row) => row.assessment?.figures.mean ?? null, rate),
  number(
    'lift',
    'Likely lift',
    (row) => row.assessment?.drawn?.likely ?? row.likely,
    (row) => (row.likely === null ? '–' : formatLift(row.assessment?.drawn?.likely ?? row.likely)),
  ),
  number(
    'gain',
    'Gain a month',
    (row) => row.assessment?.worth?.money?.expected ?? row.assessment?.worth?.gain.expected ?? null,
    (row) => gainInWords(row.assessment, metricOf(row), props.currency),
  ),
  number(
    'chance',
    'Chance it pays off',
    (row) => row.assessment?.worth?.chance ?? null,
    (row) => chanceInWords(row.assessment?.worth?.chance ?? null),
  ),
  number(
    'perDay',
    'Gain per day of effort',
    (row) => row.assessment?.worth?.moneyADay ?? row.assessment?.worth?.gainADay ?? null,
    perDay,
  ),
  {
    ...number(
      'effort',
      'Days',
      (row) => row.effortDays,
      (row) => (row.effortDays === null ? '–' : formatNumber(row.effortDays)),
    ),
    isExtra: true,
  },
  number(
    'weeks',
    'Time to learn',
    (row) => row.assessment?.cost?.weeks ?? null,
    (row) => weeksInWords(row.assessment?.cost?.weeks),
  ),
  {
    ...number(
      'visible',
      'Lift seen in 4 weeks',
      (row) => row.assessment?.cost?.visibleLift ?? null,
      (row) => (row.assessment?.cost?.visibleLift ? formatLift(row.assessment.cost.visibleLift) : '–'),
    ),
    isExtra: true,
  },
  ...(props.terms.criteria.length > 0
    ? [
        {
          ...number(
            'score',
            'Score',
            (row: Row) => row.score,
            (row: Row) => (row.score === null ? '–' : formatNumber(row.score)),
          ),
          isExtra: !isByScore.value,
        },
        {
          id: 'byWorth',
          header: 'By worth',
          value: ({ byWorth }: Row) => byWorth,
          isNumeric: true,
          isExtra: !isByScore.value,
        },
      ]
    : []),
  { id: 'owner', header: 'Owner', value: ({ owner }) => owner?.name ?? null, isExtra: true },
  { id: 'experiment', header: 'Experiment', value: ({ experiment }) => experiment?.name ?? null, isExtra: true },
  { id: 'tags', header: 'Tags', value: ({ tags }) => tags.join(', ') || null, isExtra: true },
  { id: 'findings', header: 'Findings', value: ({ findings }) => findings, isNumeric: true, isExtra: true },
  { id: 'comments', header: 'Comments', value: ({ comments }) => comments, isNumeric: true, isExtra: true },
  {
    id: 'created',
    header: 'Created',
    isExtra: true,
    value: ({ createdAt }) => createdAt,
    show: ({ createdAt }) => formatDate(createdAt, props.timeZone),
  },
])
</script>

<template>
  <DataTable
    v-model:sort="sort"
    label="Hypotheses"
    :columns="columns"
    :rows="hypotheses"
    :row-key="({ id }) => id"
    :export-address="`/api/sites/${siteId}/hypotheses.csv`"
  >
    <template #cell-place="{ row }">
      <PlaceHandle
        :id="row.id"
        :title="row.title"
        :place="row.place"
        :computed="row.computed"
        :reason="row.handPlace === null ? null : row.handReason"
        :may-move="mayEdit"
        @dropped="emit('move', $event, row.place)"
        @press="emit('move', row.id, row.place)"
      />
    </template>
    <template #actions><slot name="actions" /></template>
    <template #cell-title="{ row }">
      <NuxtLink :to="place(row)" class="block min-w-44 font-medium text-accent hover:underline">{{
        row.title
      }}</NuxtLink>
    </template>
    <template #cell-gain="{ row }">
      <span class="block"
        >{{ gainInWords(row.assessment, metricOf(row), currency) }}
        <span v-if="gainRange(row)" class="block text-xs text-ink-soft">{{ gainRange(row) }}</span></span
      >
    </template>
    <template #cell-weeks="{ row }">
      <span class="block"
        >{{ weeksInWords(row.assessment?.cost?.weeks) }}
        <span v-if="row.assessment?.untestable" class="block text-xs text-rust" :title="row.assessment.untestable"
          >{{ row.assessment.cost?.weeks ? 'too slow on these pages' : 'no test possible'
          }}<span class="sr-only">: {{ row.assessment.untestable }}</span></span
        ></span
      >
    </template>
    <template #cell-stage="{ row }"
      ><span class="whitespace-nowrap">{{ row.stage }}</span></template
    >
    <template #cell-owner="{ row }"
      ><span class="whitespace-nowrap">{{ row.owner?.name ?? '–' }}</span></template
    >
    <template #cell-experiment="{ row }">
      <NuxtLink
        v-if="row.experiment"
        :to="`/sites/${siteId}/experiments/${row.experiment.id}`"
        class="text-accent hover:underline"
        >{{ row.experiment.name }}</NuxtLink><template v-else>–</template>
    </template>
  </DataTable>
</template>
