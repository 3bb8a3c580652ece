<script setup lang="ts">
useHead({ title: 'Survey · Vetch' })
const route = useRoute('sites-site-evidence-surveys-survey')
const siteId = Number(route.params.site)
const surveyId = Number(route.params.survey)
const api = useApi()
const { value: survey, problem, reload } = useLoaded(() => api('readSurvey', { site: siteId, survey: surveyId }))
</script>

<template>
  <div class="p-6 lg:p-8">
    <EvidenceHead :site-id="siteId" note="A few questions to visitors, on the page and at the moment that you choose" />
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!survey" />
    <SurveySheet v-else v-model:survey="survey" :site-id="siteId" />
  </div>
</template>
