<script setup lang="ts">
import type { SurveyAnswersView, SurveyView } from '~~/shared/surveys/replies'

/** What visitors have answered to a survey in some days. */
const props = defineProps<{ siteId: number; survey: SurveyView }>()
const emit = defineEmits<{ edit: [] }>()
const evidence = useEvidence(props.siteId)
const { api, filter, daysBack, compare, set, choices, comparedName, timeZone } = evidence
const {
  value: loaded,
  problem,
  isLoading,
  reload,
} = useReport(evidence, (of) => api('reportSurvey', { site: props.siteId, query: { ...of, survey: props.survey.id } }))
const tallyOf = (id: string, which: 'report' | 'other') =>
  loaded.value?.[which]?.questions.find((each) => each.id === id) ?? null
const account = useAccountStore()
const notices = useNoticesStore()
const mayEdit = computed(() => account.site(props.siteId)?.role !== 'viewer')
type Answers = SurveyAnswersView['questions'][number]['texts']
async function setTag(question: string, answers: Answers, name: string, isOn: boolean): Promise<void> {
  const those = answers.map(({ visitor, session, at }) => ({ visitor, session, at }))
  const place = { site: props.siteId, survey: props.survey.id }
  await api('tagAnswers', { ...place, body: { question, answers: those, tag: name, isOn } })
  await reload()
}
async function tag(question: string, answers: Answers, name: string, isOn: boolean): Promise<void> {
  // What had it before keeps it when this is undone.
  const changed = answers.filter(({ tags }) => tags.includes(name) !== isOn)
  if (changed.length === 0) return
  try {
    await setTag(question, changed, name, isOn)
    const count = `${formatCount(changed.length)} answer${changed.length === 1 ? '' : 's'}`
    notices.show(isOn ? `Tagged ${count} “${name}”.` : `Removed “${name}” from ${count}.`, {
      undo: () => setTag(question, changed, name, !isOn),
    })
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
  }
}
const DEFINITION =
  'Visitors with sessions that began in these days. Asked: the survey was shown to them. Of several answers of a visitor to one question the last counts; shares are of those who answered the question.'
</script>

<template>
  <div class="mb-5">
    <FilterBar :filter="filter" :days-back="daysBack" :choices="choices" :compare="compare" @change="set" />
  </div>
  <ProblemNote v-if="problem" :text="problem" @retry="reload" />
  <LoadingNote v-else-if="!loaded" />
  <EmptyNote
    v-else-if="loaded.report.asked === 0"
    text="Nobody was asked in these days. Choose more days, or see on which pages and when it is shown. Visits of robots do not count."
  >
    <BaseButton @click="emit('edit')">See the questions</BaseButton>
  </EmptyNote>
  <div v-else class="flex max-w-5xl flex-col gap-8" :class="{ 'opacity-60': isLoading }" :aria-busy="isLoading">
    <div class="flex flex-wrap items-center justify-between gap-3">
      <p>
        Asked: {{ formatCount(loaded.report.asked) }}. Answered: {{ formatCount(loaded.report.answered) }}, which is
        {{ formatShare(loaded.report.answered / loaded.report.asked, 1)
        }}<template v-if="loaded.other && loaded.other.asked > 0"
          >, against {{ formatShare(loaded.other.answered / loaded.other.asked, 1) }} ({{ comparedName }})</template
        >.
      </p>
      <ReportActions
        :site-id="siteId"
        report="survey"
        :question="{ ...filter, survey: survey.id }"
        :definition="DEFINITION"
      />
    </div>
    <QuestionAnswers
      v-for="(question, index) in survey.content.questions"
      :key="question.id"
      :site-id="siteId"
      :question="question"
      :number="index + 1"
      :tally="tallyOf(question.id, 'report')"
      :other="tallyOf(question.id, 'other')"
      :other-name="comparedName"
      :time-zone="timeZone"
      :may-edit="mayEdit"
      @tag="(answers, name, isOn) => tag(question.id, answers, name, isOn)"
    />
  </div>
</template>
