<script setup lang="ts">
import type { SurveyView } from '~~/shared/surveys/replies'

/** A survey being written, with what visitors would see of it beside. */
const props = defineProps<{ siteId: number; survey: SurveyView; mayEdit: boolean }>()
const emit = defineEmits<{ saved: [survey: SurveyView] }>()
const api = useApi()
const notices = useNoticesStore()
const { draft, isChanged, undo, redo, canUndo, canRedo, discard, forget } = useSurveyDraft(props.survey)
const { errors, isSaving, save } = useSaving()

const keep = () =>
  save(async () => {
    const body = { ...draft.value, version: props.survey.version }
    const saved = await api('updateSurvey', { site: props.siteId, survey: props.survey.id, body })
    forget()
    notices.show(saved.state === 'running' ? 'Saved. Browsers show it within minutes.' : 'Saved.')
    emit('saved', saved)
  })
</script>

<template>
  <div class="grid items-start gap-8 xl:grid-cols-[minmax(0,1fr)_minmax(0,27rem)]">
    <form class="flex flex-col gap-5" novalidate @submit.prevent="keep">
      <SurveyForm
        v-model:name="draft.name"
        v-model:content="draft.content"
        :site-id="siteId"
        :errors="errors"
        :disabled="!mayEdit"
      />
      <div v-if="mayEdit" class="sticky bottom-0 flex items-center gap-3 border-t border-line bg-ground py-3">
        <BaseButton type="submit" kind="main" :disabled="isSaving || !isChanged">{{
          isSaving ? 'Saving …' : 'Save'
        }}</BaseButton>
        <BaseButton kind="quiet" title="Ctrl/⌘+Z" :disabled="!canUndo" @click="undo">Undo</BaseButton>
        <BaseButton kind="quiet" title="Ctrl/⌘+Shift+Z" :disabled="!canRedo" @click="redo">Redo</BaseButton>
        <BaseButton v-if="isChanged" kind="quiet" @click="discard">Discard the changes</BaseButton>
        <span v-if="isChanged" class="text-sm text-rust">Not saved yet.</span>
      </div>
    </form>
    <SurveyPreview class="xl:sticky xl:top-6" :content="draft.content" />
  </div>
</template>
