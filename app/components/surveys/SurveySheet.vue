<script setup lang="ts">
import { isSame } from '~~/core/sheet/isSame'
import type { SurveyVersion, SurveyView } from '~~/shared/surveys/replies'

/** One survey: its state, and its answers or its questions. */
const props = defineProps<{ siteId: number }>()
const survey = defineModel<SurveyView>('survey', { required: true })
const account = useAccountStore()
const notices = useNoticesStore()
const api = useApi()
const mayEdit = account.site(props.siteId)?.role !== 'viewer'
const part = useQueryChoice('part', () => ['answers', 'edit'] as const)
const PARTS = [
  { value: 'answers', label: 'Answers' },
  { value: 'edit', label: 'Questions' },
] as const
const edits = useSurveyDraft(String(survey.value.id), survey)
const { errors, isSaving, saveNow } = useSurveySaving(props.siteId, survey, edits, mayEdit)
const hasOtherQuestions = computed(() => !isSame(edits.draft.content.questions, survey.value.content.questions))
const savedNote = computed(() => {
  if (isSaving.value) return 'Saving …'
  if (!edits.isChanged) return 'Saved.'
  return Object.keys(errors.value).length > 0 ? 'Not saved: see what is marked above.' : 'Not saved yet.'
})

async function turn(state: 'running' | 'ended'): Promise<void> {
  try {
    const body = { state, version: survey.value.version }
    survey.value = await api('setSurveyState', { site: props.siteId, survey: survey.value.id, body })
    const undo = state === 'ended' ? () => turn('running') : undefined
    notices.show(state === 'running' ? 'Started. Visitors see it within minutes.' : 'Ended. No visitor sees it now.', {
      undo,
    })
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
  }
}
/** It is written over what stands there, and saved as whatever is written; Undo takes it back. */
function restore({ version, name, content }: SurveyVersion): void {
  edits.change(JSON.parse(JSON.stringify({ name, content })) as Pick<SurveyVersion, 'name' | 'content'>)
  notices.show(`Version ${version} stands in the form again.`, { undo: () => edits.undo() })
}
async function saveRunning(): Promise<void> {
  if (await saveNow()) notices.show('Saved. Visitors see it within minutes.')
}
</script>

<template>
  <div class="mb-5 flex flex-wrap items-center gap-3">
    <h2>{{ survey.name }}</h2>
    <StateBadge :state="survey.state" />
    <ButtonRow v-model="part" label="What is shown of the survey" :choices="PARTS" />
    <StartSurvey
      v-if="mayEdit && survey.state !== 'running'"
      :survey="survey"
      :is-unsaved="edits.isChanged || isSaving"
      @start="turn('running')"
    />
    <BaseButton v-if="mayEdit && survey.state === 'running'" @click="turn('ended')">End</BaseButton>
  </div>
  <SurveyEditor v-if="part === 'edit'" :site-id="siteId" :edits="edits" :errors="errors" :disabled="!mayEdit">
    <SaveRunning
      v-if="survey.state === 'running'"
      :is-changed="edits.isChanged && !edits.isOutdated"
      :is-saving="isSaving"
      :has-other-questions="hasOtherQuestions"
      @save="saveRunning"
    />
    <span v-else class="text-sm" :class="edits.isChanged ? 'text-rust' : 'text-ink-soft'" role="status">{{
      savedNote
    }}</span>
  </SurveyEditor>
  <SurveyVersions
    v-if="part === 'edit'"
    :site-id="siteId"
    :survey-id="survey.id"
    :version="survey.version"
    :may-edit="mayEdit"
    @use="restore"
  />
  <SurveyAnswers v-else :site-id="siteId" :survey="survey" @edit="part = 'edit'" />
</template>
