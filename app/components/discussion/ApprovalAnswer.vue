<script setup lang="ts">
import type { ApprovalView, ReviewView } from '~~/shared/experiments/reviewReplies'

/** The answer of whoever is asked. */
const props = defineProps<{ place: { site: number; experiment: number }; own: ApprovalView }>()
const emit = defineEmits<{ answered: [review: ReviewView] }>()
const api = useApi()
const { errors, isSaving, save } = useSaving()
const words = ref(props.own.words)
const answer = (given: 'approved' | 'changes') =>
  save(async () =>
    emit('answered', await api('answerApproval', { ...props.place, body: { answer: given, words: words.value } })),
  )
</script>

<template>
  <form
    class="flex max-w-[70ch] flex-col items-start gap-2 border-l-4 border-accent py-1 pl-4"
    novalidate
    @submit.prevent="answer('approved')"
  >
    <p>{{ own.askedBy ?? 'Somebody' }} asks you: may this start as it is?</p>
    <LabeledField v-slot="{ id, invalid, describedBy }" class="w-full" label="Comment" :error="errors.words">
      <textarea
        :id="id"
        v-model="words"
        class="field"
        rows="2"
        :aria-invalid="invalid"
        :aria-describedby="describedBy"
      />
    </LabeledField>
    <span class="flex gap-2">
      <BaseButton type="submit" kind="main" :disabled="isSaving">Approve</BaseButton>
      <BaseButton :disabled="isSaving" @click="answer('changes')">Ask for changes</BaseButton>
    </span>
  </form>
</template>
