<script setup lang="ts">
import { messagesByField } from '~~/shared/api/messagesByField'
import { surveySchema } from '~~/shared/surveys/survey'
import { NEW_SURVEY } from '~/data/surveyDraft'

useHead({ title: 'New survey · Vetch' })
const route = useRoute('sites-site-evidence-surveys-new')
const siteId = Number(route.params.site)
const api = useApi()
const mayEdit = useAccountStore().site(siteId)?.role !== 'viewer'
const edits = useSurveyDraft(`new ${siteId}`, ref(NEW_SURVEY()))
const { errors, isSaving, save } = useSaving()

async function create(): Promise<void> {
  errors.value = messagesByField(surveySchema, edits.draft)
  if (Object.keys(errors.value).length > 0) return
  await save(async () => {
    const { id } = await api('createSurvey', { site: siteId, body: edits.draft })
    edits.discard()
    await navigateTo({ path: `/sites/${siteId}/evidence/surveys/${id}`, query: { part: 'edit' } })
  })
}
</script>

<template>
  <div class="p-6 lg:p-8">
    <EvidenceHead :site-id="siteId" note="A few questions to visitors, on the page and at the moment that you choose" />
    <h2 class="mb-5">New survey</h2>
    <p v-if="!mayEdit" class="mb-5">Your role lets you look at surveys. An editor can write one.</p>
    <SurveyEditor :site-id="siteId" :edits="edits" :errors="errors" :disabled="!mayEdit">
      <BaseButton kind="main" :disabled="isSaving" @click="create">{{ isSaving ? 'Saving …' : 'Save' }}</BaseButton>
    </SurveyEditor>
  </div>
</template>
