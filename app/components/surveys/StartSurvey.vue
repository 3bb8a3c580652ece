<script setup lang="ts">
import { momentInWords } from '~/data/surveyDraft'
import { pageRulesInWords } from '~~/core/targeting/pageWords'
import type { SurveyView } from '~~/shared/surveys/replies'

/** Asks before a survey is shown to visitors, and says to whom, where and when. */
const props = defineProps<{
  survey: SurveyView
  /** What is written and not saved keeps it from being started. */
  isUnsaved: boolean
}>()
const emit = defineEmits<{ start: [] }>()
const isOpen = ref(false)
const label = computed(() => (props.survey.state === 'draft' ? 'Start' : 'Start again'))
const pages = computed(() => pageRulesInWords(props.survey.content.pages))
function start(): void {
  isOpen.value = false
  emit('start')
}
</script>

<template>
  <span class="flex flex-wrap items-center gap-2">
    <BaseButton kind="main" :disabled="isUnsaved" @click="isOpen = true">{{ label }}</BaseButton>
    <span v-if="isUnsaved" class="text-sm text-rust" role="status"> You can start once everything is saved. </span>
    <PlainDialog v-model:open="isOpen" title="Start this survey?">
      <ol class="list-decimal pl-5">
        <li v-for="question in survey.content.questions" :key="question.id">
          {{ question.words }}<template v-if="question.isOptional"> (optional)</template>
        </li>
      </ol>
      <dl class="mt-3 grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
        <dt class="text-ink-soft">Pages</dt>
        <dd>{{ pages }}</dd>
        <dt class="text-ink-soft">When</dt>
        <dd>{{ momentInWords(survey.content.moment) }}</dd>
        <dt class="text-ink-soft">Share</dt>
        <dd>{{ formatShare(survey.content.share / 10_000, 1) }} of the visitors</dd>
      </dl>
      <template #actions>
        <BaseButton kind="quiet" @click="isOpen = false">Cancel</BaseButton>
        <BaseButton kind="main" @click="start">{{ label }}</BaseButton>
      </template>
    </PlainDialog>
  </span>
</template>
