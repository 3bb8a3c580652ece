<script setup lang="ts">
import { SEVERITY_CHOICES, type FindingDraft } from '~/data/findingDraft'

/** What is written of a finding. */
defineProps<{ errors: Readonly<Record<string, string>> }>()
const draft = defineModel<FindingDraft>({ required: true })
const change = (changes: Partial<FindingDraft>) => (draft.value = { ...draft.value, ...changes })
</script>

<template>
  <div class="flex flex-col gap-3">
    <TextField
      :model-value="draft.title"
      label="What was found"
      placeholder="Phone visitors leave at the length of the vehicle"
      :error="errors.title"
      @update:model-value="change({ title: String($event ?? '') })"
    />
    <LabeledField v-slot="{ id, invalid, describedBy }" label="Comment" :error="errors.words">
      <textarea
        :id="id"
        class="field"
        rows="4"
        :value="draft.words"
        :aria-invalid="invalid"
        :aria-describedby="describedBy"
        @input="change({ words: ($event.target as HTMLTextAreaElement).value })"
      />
    </LabeledField>
    <div class="flex flex-wrap gap-4">
      <ChoiceField
        :model-value="draft.severity"
        class="w-32"
        label="Severity"
        :choices="SEVERITY_CHOICES"
        @update:model-value="change({ severity: $event })"
      />
      <TextField
        :model-value="draft.page"
        class="min-w-40 flex-1"
        label="Page"
        placeholder="/book"
        :error="errors.page"
        @update:model-value="change({ page: String($event ?? '') })"
      />
    </div>
    <TextField
      :model-value="draft.tags"
      label="Tags"
      placeholder="phone, booking"
      hint="Separated by commas."
      :error="Object.entries(errors).find(([field]) => field.startsWith('tags'))?.[1]"
      @update:model-value="change({ tags: String($event ?? '') })"
    />
  </div>
</template>
