<script setup lang="ts">
useHead({ title: 'Survey · Vetch' })
const route = useRoute('sites-site-evidence-surveys-survey')
const siteId = Number(route.params.site)
const surveyId = Number(route.params.survey)
const account = useAccountStore()
const notices = useNoticesStore()
const evidence = useEvidence(siteId)
const { api, filter, daysBack, compare, set, choices, comparedName, timeZone } = evidence
const mayEdit = computed(() => account.site(siteId)?.role !== 'viewer')
const part = useQueryChoice('part', () => ['answers', 'edit'] as const)
const PARTS = [
  { value: 'answers', label: 'Answers' },
  { value: 'edit', label: 'Questions' },
] as const
const { value: survey, problem, reload } = useLoaded(() => api('readSurvey', { site: siteId, survey: surveyId }))
const {
  value: loaded,
  problem: reportProblem,
  isLoading,
  reload: reloadReport,
} = useReport(evidence, (of) => api('reportSurvey', { site: siteId, query: { ...of, survey: surveyId } }))
const tallyOf = (id: string, which: 'report' | 'other') =>
  loaded.value?.[which]?.questions.find((each) => each.id === id) ?? null

async function turn(state: 'running' | 'ended'): Promise<void> {
  try {
    survey.value = await api('setSurveyState', { site: siteId, survey: surveyId, body: { state } })
    const undo = state === 'ended' ? () => turn('running') : undefined
    notices.show(
      state === 'running' ? 'It runs. Browsers show it within minutes.' : 'It is shown to nobody any more.',
      { undo },
    )
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
  }
}
const DEFINITION =
  'Visitors with sessions that began in these days. Asked: the survey was shown to them. Of several answers of a visitor to one question the last counts; shares are of those who answered the question.'
</script>

<template>
  <div class="p-6 lg:p-8">
    <EvidenceHead :site-id="siteId" note="A few questions to visitors, on the page and at the moment that you choose" />
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!survey" />
    <template v-else>
      <div class="mb-5 flex flex-wrap items-center gap-3">
        <h2>{{ survey.name }}</h2>
        <StateBadge :state="survey.state" />
        <ButtonRow v-model="part" label="What is shown of the survey" :choices="PARTS" />
        <BaseButton v-if="mayEdit && survey.state !== 'running'" kind="main" @click="turn('running')">{{
          survey.state === 'draft' ? 'Start' : 'Start again'
        }}</BaseButton>
        <BaseButton v-if="mayEdit && survey.state === 'running'" @click="turn('ended')">End</BaseButton>
      </div>
      <SurveyEditor
        v-if="part === 'edit'"
        :key="survey.version"
        :site-id="siteId"
        :survey="survey"
        :may-edit="mayEdit"
        @saved="survey = $event"
      />
      <template v-else>
        <div class="mb-5">
          <FilterBar :filter="filter" :days-back="daysBack" :choices="choices" :compare="compare" @change="set" />
        </div>
        <ProblemNote v-if="reportProblem" :text="reportProblem" @retry="reloadReport" />
        <LoadingNote v-else-if="!loaded" />
        <EmptyNote
          v-else-if="loaded.report.asked === 0"
          text="Nobody was asked in these days. Choose more days, or see on which pages and when it is shown."
        >
          <BaseButton @click="part = 'edit'">See the questions</BaseButton>
        </EmptyNote>
        <div v-else class="flex max-w-5xl flex-col gap-8" :class="{ 'opacity-60': isLoading }" :aria-busy="isLoading">
          <div class="flex flex-wrap items-center justify-between gap-3">
            <p>
              Asked: {{ formatCount(loaded.report.asked) }}. Answered: {{ formatCount(loaded.report.answered) }}, which
              is {{ formatShare(loaded.report.answered / loaded.report.asked, 1)
              }}<template v-if="loaded.other && loaded.other.asked > 0"
                >, against {{ formatShare(loaded.other.answered / loaded.other.asked, 1) }} ({{
                  comparedName
                }})</template
              >.
            </p>
            <ReportActions
              :site-id="siteId"
              report="survey"
              :question="{ ...filter, survey: surveyId }"
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
          />
        </div>
      </template>
    </template>
  </div>
</template>
