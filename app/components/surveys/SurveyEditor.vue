<script setup lang="ts">
import type { SurveyEdits } from '~/composables/useSurveyDraft'

/** A survey being written, with what visitors would see of it beside. */
defineProps<{
  siteId: number
  edits: SurveyEdits
  errors: Readonly<Record<string, string>>
  disabled: boolean
}>()
</script>

<template>
  <div class="grid items-start gap-8 xl:grid-cols-[minmax(0,1fr)_minmax(0,27rem)]">
    <form class="flex flex-col gap-5" novalidate @submit.prevent>
      <SurveyForm
        :name="edits.draft.name"
        :content="edits.draft.content"
        :site-id="siteId"
        :errors="errors"
        :disabled="disabled"
        @update:name="edits.change({ name: $event })"
        @update:content="edits.change({ content: $event })"
      />
      <div v-if="!disabled" class="flex flex-wrap items-center gap-3 border-t border-line py-3">
        <p v-if="edits.isOutdated" class="w-full border-l-2 border-rust pl-3 text-sm" role="alert">
          Somebody else has changed this survey. Your changes are not saved.
          <span class="mt-1 flex gap-2">
            <BaseButton @click="edits.keepMine">Use mine</BaseButton>
            <BaseButton kind="quiet" @click="edits.discard">Use theirs</BaseButton>
          </span>
        </p>
        <slot />
        <BaseButton kind="quiet" title="Ctrl/⌘+Z" :disabled="!edits.canUndo" @click="edits.undo">Undo</BaseButton>
        <BaseButton kind="quiet" title="Ctrl/⌘+Shift+Z" :disabled="!edits.canRedo" @click="edits.redo">Redo</BaseButton>
        <BaseButton v-if="edits.isChanged" kind="quiet" @click="edits.discard">Discard the changes</BaseButton>
      </div>
    </form>
    <SurveyPreview class="xl:sticky xl:top-6" :content="edits.draft.content" />
  </div>
</template>
