<script setup lang="ts">
import { newQuestion } from '~/data/surveyDraft'
import type { Question } from '~~/core/survey/survey'
import { MOST_QUESTIONS, type SurveyContent } from '~~/shared/surveys/survey'

/** All of a survey: its questions, whom it asks, and when. */
const props = defineProps<{ siteId: number; errors: Readonly<Record<string, string>>; disabled: boolean }>()
const name = defineModel<string>('name', { required: true })
const content = defineModel<SurveyContent>('content', { required: true })
const change = (changes: Partial<SurveyContent>) => (content.value = { ...content.value, ...changes })
const errorOf = (beginning: string) =>
  Object.entries(props.errors).find(([field]) => field.startsWith(`content.${beginning}`))?.[1]

function changeQuestion(place: number, question: Question): void {
  change({ questions: content.value.questions.map((each, at) => (at === place ? question : each)) })
}
function move(place: number): void {
  const questions = [...content.value.questions]
  const [question] = questions.splice(place, 1)
  questions.splice(place - 1, 0, question!)
  change({ questions })
}
function remove(place: number): void {
  const gone = content.value.questions[place]!.id
  const questions = content.value.questions
    .filter(({ id }) => id !== gone)
    .map((each) => ({ ...each, branches: each.branches.filter(({ next }) => next !== gone) }))
  change({ questions })
}
/** By the places of the conditions. */
const audienceErrors = computed(() => {
  const beginning = 'content.audience'
  const own = Object.entries(props.errors).filter(([field]) => field.startsWith(beginning))
  return Object.fromEntries(own.map(([field, message]) => [field.slice(beginning.length + 1), message]))
})
const share = computed({
  get: (): number | string | null =>
    typeof content.value.share === 'number' ? content.value.share / 10_000 : content.value.share,
  // What is no number is passed on as it was typed.
  set: (value) =>
    change({ share: (typeof value === 'number' ? Number((value * 10_000).toFixed(6)) : value) as number }),
})
const WORDS = [
  { field: 'next', label: 'To go on' },
  { field: 'send', label: 'To send' },
  { field: 'close', label: 'To close' },
] as const
</script>

<template>
  <fieldset class="flex flex-col gap-4" :disabled="disabled">
    <TextField v-model="name" class="max-w-md" label="Name, for the team" :error="errors.name" />
    <QuestionFields
      v-for="(question, place) in content.questions"
      :key="question.id"
      :model-value="question"
      :questions="content.questions"
      :place="place"
      :errors="errors"
      @update:model-value="changeQuestion(place, $event)"
    >
      <BaseButton v-if="place > 0" kind="quiet" :aria-label="`Move question ${place + 1} up`" @click="move(place)"
        >Move up</BaseButton
      >
      <BaseButton
        v-if="content.questions.length > 1"
        kind="quiet"
        :aria-label="`Remove question ${place + 1}`"
        @click="remove(place)"
        >Remove</BaseButton
      >
    </QuestionFields>
    <div v-if="content.questions.length < MOST_QUESTIONS">
      <BaseButton @click="change({ questions: [...content.questions, newQuestion('one')] })">Add a question</BaseButton>
    </div>
    <p v-if="errors['content.questions']" class="text-sm text-rust" role="alert">{{ errors['content.questions'] }}</p>
    <fieldset class="flex flex-col gap-3 border-t border-line pt-3">
      <legend class="float-left mb-1 font-semibold">Where, whom and when</legend>
      <PageRuleList
        class="clear-both"
        :site-id="siteId"
        :model-value="content.pages"
        :error="errorOf('pages')"
        @update:model-value="change({ pages: $event })"
      />
      <AudienceField
        :site-id="siteId"
        :audience="content.audience ?? null"
        :errors="audienceErrors"
        :disabled="disabled"
        @change="change({ audience: $event })"
      />
      <MomentFields
        :model-value="content.moment"
        :error="errorOf('moment')"
        @update:model-value="change({ moment: $event })"
      />
      <PercentField
        v-model="share"
        class="w-56"
        label="Share of the visitors"
        hint="Visitors see each survey once, and one survey in a session."
        :error="errorOf('share')"
      />
    </fieldset>
    <fieldset class="flex flex-col gap-3 border-t border-line pt-3">
      <legend class="float-left mb-1 font-semibold">In the language of the site</legend>
      <TextField
        class="clear-both max-w-md"
        label="Thanks at the end"
        :model-value="content.thanks"
        :error="errorOf('thanks')"
        @update:model-value="change({ thanks: String($event ?? '') })"
      />
      <div class="flex flex-wrap gap-4">
        <TextField
          v-for="each in WORDS"
          :key="each.field"
          class="w-36"
          :label="each.label"
          :model-value="content.words[each.field]"
          :error="errorOf(`words.${each.field}`)"
          @update:model-value="change({ words: { ...content.words, [each.field]: String($event ?? '') } })"
        />
      </div>
    </fieldset>
  </fieldset>
</template>
