<script setup lang="ts">
import type { SurveyAnswersView } from '~~/shared/surveys/replies'
import type { TableColumn } from '~/data/tableColumn'
import { scaleMean } from '~~/core/evidence/figures'
import type { Question } from '~~/core/survey/survey'

/** What was answered to one question. */
type Tally = SurveyAnswersView['questions'][number]
const props = defineProps<{
  siteId: number
  question: Question
  number: number
  tally: Tally | null
  /** Of those that it is compared with. */
  other: Tally | null
  otherName: string
  timeZone: string
  mayEdit: boolean
}>()
const emit = defineEmits<{ tag: [answers: Tally['texts'], tag: string, isOn: boolean] }>()
interface Row {
  key: string
  words: string
  count: number
  share: number | null
  other: number | null
}
const share = (count: number, of: Tally | null) => (of && of.answered > 0 ? count / of.answered : null)
const rows = computed((): Row[] => {
  const { choices, scale } = props.question
  const rowOf = (key: string, words: string, read: (tally: Tally) => number): Row => {
    const count = props.tally ? read(props.tally) : 0
    return {
      key,
      words,
      count,
      share: share(count, props.tally),
      other: props.other && share(read(props.other), props.other),
    }
  }
  if (!scale)
    return choices.map(({ id, words }) =>
      rowOf(id, words, (tally) => tally.choices.find((each) => each.id === id)?.count ?? 0),
    )
  const { low, high, lowWords, highWords } = scale
  return Array.from({ length: high - low + 1 }, (_, at) => low + at).map((value) => {
    const meaning = value === low ? lowWords : value === high ? highWords : ''
    return rowOf(String(value), meaning ? `${value}, ${meaning}` : String(value), (tally) => {
      return tally.values.find((each) => each.value === value)?.count ?? 0
    })
  })
})
const mean = computed(() => scaleMean(props.question, props.tally?.values ?? []))
const columns = computed((): TableColumn<Row>[] => [
  { id: 'words', header: 'Answer', value: ({ words }) => words, isHeading: true, isUnsorted: true },
  { id: 'bar', header: 'Share of those who answered', value: () => null, isDrawing: true },
  {
    id: 'share',
    header: 'Share',
    value: (row) => row.share,
    show: (row) => formatShare(row.share, 1),
    isNumeric: true,
  },
  {
    id: 'count',
    header: 'Visitors',
    value: ({ count }) => count,
    show: ({ count }) => formatCount(count),
    isNumeric: true,
  },
  ...(props.other
    ? [
        {
          id: 'other',
          header: props.otherName,
          value: (row: Row) => row.other,
          show: (row: Row) => formatShare(row.other, 1),
          isNumeric: true,
        },
      ]
    : []),
])
</script>

<template>
  <section class="flex flex-col gap-2" :aria-label="`Question ${number}`">
    <h3>{{ number }}. {{ question.words }}</h3>
    <p class="text-sm text-ink-soft">
      Answered by {{ formatCount(tally?.answered ?? 0)
      }}<template v-if="question.kind === 'several'">, with several choices each at will</template
      ><template v-if="mean !== null">; mean {{ mean.toFixed(2) }}</template
      >.
    </p>
    <TextAnswers
      v-if="question.kind === 'text' && tally"
      :site-id="siteId"
      :texts="tally.texts"
      :written="tally.written"
      :time-zone="timeZone"
      :label="question.words"
      :tags="tally.tags"
      :may-edit="mayEdit"
      @tag="(answers, tag, isOn) => emit('tag', answers, tag, isOn)"
    />
    <DataTable
      v-else-if="question.kind !== 'text'"
      :key="String(other === null)"
      :label="question.words"
      :columns="columns"
      :rows="rows"
      :row-key="({ key }) => key"
    >
      <template #cell-bar="{ row }">
        <span class="block h-3 w-48 bg-neutral-soft" aria-hidden="true"
          ><span class="block h-full bg-accent" :style="{ width: `${100 * (row.share ?? 0)}%` }"
        /></span>
      </template>
    </DataTable>
  </section>
</template>
