<script setup lang="ts">
import type { SurveyView } from '~~/shared/surveys/replies'

useHead({ title: 'Surveys · Vetch' })
const route = useRoute('sites-site-evidence-surveys')
const siteId = Number(route.params.site)
const account = useAccountStore()
const notices = useNoticesStore()
const { api, filter, daysBack, set, choices, timeZone } = useEvidence(siteId)
const mayEdit = computed(() => account.site(siteId)?.role !== 'viewer')
const {
  value: loaded,
  problem,
  isLoading,
  reload,
} = useLoaded(async () => {
  const [surveys, counts] = await Promise.all([
    api('listSurveys', { site: siteId }),
    api('reportSurveys', { site: siteId, query: { ...filter.value } }),
  ])
  return surveys.map((survey) => {
    const { asked = 0, answered = 0 } = counts.surveys.find((each) => each.survey === survey.id) ?? {}
    return { ...survey, asked, answered }
  })
})
watch(filter, reload)

async function remove({ id, name, content }: SurveyView): Promise<void> {
  try {
    await api('deleteSurvey', { site: siteId, survey: id })
    await reload()
    const undo = async () => {
      await api('createSurvey', { site: siteId, body: { name, content } })
      await reload()
    }
    notices.show(`Deleted ${name}.`, { undo })
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
  }
}
</script>

<template>
  <div class="p-6 lg:p-8">
    <EvidenceHead :site-id="siteId" note="A few questions to visitors, on the page and at the moment that you choose" />
    <div class="mb-5 flex flex-wrap items-start justify-between gap-4">
      <FilterBar :filter="filter" :days-back="daysBack" :choices="choices" @change="set" />
      <div class="flex flex-wrap items-center gap-2">
        <ReportActions
          :site-id="siteId"
          report="surveys"
          :question="filter"
          definition="Visitors who were asked, and who answered at least one question, in sessions that began in these days."
        />
        <BaseButton v-if="mayEdit" kind="main" @click="navigateTo(`/sites/${siteId}/evidence/surveys/new`)"
          >New survey</BaseButton
        >
      </div>
    </div>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!loaded" />
    <EmptyNote
      v-else-if="loaded.length === 0"
      text="No survey has been written. One question on a page that people leave often says more than its figures."
    />
    <div v-else :class="{ 'opacity-60': isLoading }" :aria-busy="isLoading">
      <SurveyTable :site-id="siteId" :surveys="loaded" :time-zone="timeZone" :may-edit="mayEdit" @remove="remove" />
    </div>
  </div>
</template>
