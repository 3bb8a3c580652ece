<script setup lang="ts">
import type { SurveyDraft } from '~/composables/useSurveyDraft'

/** A survey being written, with what visitors would see of it beside. */
defineProps<{
  siteId: number
  errors: Readonly<Record<string, string>>
  disabled: boolean
  isChanged: boolean
  canUndo: boolean
  canRedo: boolean
}>()
const emit = defineEmits<{ undo: []; redo: []; discard: [] }>()
const draft = defineModel<SurveyDraft>('draft', { required: true })
const change = (changes: Partial<SurveyDraft>) => (draft.value = { ...draft.value, ...changes })
</script>

<template>
  <div class="grid items-start gap-8 xl:grid-cols-[minmax(0,1fr)_minmax(0,27rem)]">
    <form class="flex flex-col gap-5" novalidate @submit.prevent>
      <SurveyForm
        :name="draft.name"
        :content="draft.content"
        :site-id="siteId"
        :errors="errors"
        :disabled="disabled"
        @update:name="change({ name: $event })"
        @update:content="change({ content: $event })"
      />
      <div v-if="!disabled" class="flex flex-wrap items-center gap-3 border-t border-line py-3">
        <slot />
        <BaseButton kind="quiet" title="Ctrl/⌘+Z" :disabled="!canUndo" @click="emit('undo')">Undo</BaseButton>
        <BaseButton kind="quiet" title="Ctrl/⌘+Shift+Z" :disabled="!canRedo" @click="emit('redo')">Redo</BaseButton>
        <BaseButton v-if="isChanged" kind="quiet" @click="emit('discard')">Discard the changes</BaseButton>
      </div>
    </form>
    <SurveyPreview class="xl:sticky xl:top-6" :content="draft.content" />
  </div>
</template>
