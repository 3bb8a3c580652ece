<script setup lang="ts">
import { asKind, KINDS_OF_QUESTION, newChoice, waysOn } from '~/data/surveyDraft'
import { END, type Branch, type Question, type QuestionKind } from '~~/core/survey/survey'
import { MOST_CHOICES } from '~~/shared/surveys/survey'

/** One question: what it asks, how it is answered, and where the answers lead. */
const props = defineProps<{
  questions: readonly Question[]
  place: number
  errors: Readonly<Record<string, string>>
}>()
const question = defineModel<Question>({ required: true })
const number = computed(() => props.place + 1)
const errorOf = (field: string) => props.errors[`content.questions[${props.place}].${field}`]
const ways = computed(() => waysOn(props.questions, props.place))
const change = (changes: Partial<Question>) => (question.value = { ...question.value, ...changes })

const nextOf = (choice: string) => question.value.branches.find((each) => each.choice === choice)?.next ?? ''
function lead(choice: string, next: string): void {
  const others = question.value.branches.filter((each) => each.choice !== choice)
  change({ branches: next === '' ? others : [...others, { choice, low: null, high: null, next }] })
}
function changeChoice(id: string, words: string): void {
  change({ choices: question.value.choices.map((each) => (each.id === id ? { ...each, words } : each)) })
}
function removeChoice(id: string): void {
  const { choices, branches } = question.value
  change({
    choices: choices.filter((each) => each.id !== id),
    branches: branches.filter(({ choice }) => choice !== id),
  })
}
const changeScale = (changes: Partial<NonNullable<Question['scale']>>) =>
  change({ scale: { ...question.value.scale!, ...changes } })
const changeBranch = (index: number, changes: Partial<Branch>) =>
  change({ branches: question.value.branches.map((each, at) => (at === index ? { ...each, ...changes } : each)) })
const addBranch = () =>
  change({
    branches: [
      ...question.value.branches,
      { choice: null, low: question.value.scale!.low, high: question.value.scale!.low, next: END },
    ],
  })
const SCALE_ENDS = [
  { value: '3', label: '3' },
  { value: '5', label: '5' },
  { value: '7', label: '7' },
  { value: '10', label: '10' },
]
const places = computed(() => {
  const { low, high } = question.value.scale!
  return Array.from({ length: high - low + 1 }, (_, at) => ({ value: String(low + at), label: String(low + at) }))
})
</script>

<template>
  <fieldset class="relative flex flex-col gap-3 border-t border-line pt-3">
    <legend class="float-left min-h-7 font-semibold">Question {{ number }}</legend>
    <div class="absolute top-1.5 right-0 flex gap-1"><slot /></div>
    <TextField
      :model-value="question.words"
      label="What it asks"
      :error="errorOf('words')"
      @update:model-value="change({ words: String($event ?? '') })"
    />
    <div class="flex flex-wrap items-end gap-x-5 gap-y-3">
      <ChoiceField
        :model-value="question.kind"
        class="w-44"
        label="Answered by"
        :choices="KINDS_OF_QUESTION"
        @update:model-value="question = asKind(question, $event as QuestionKind)"
      />
      <label class="flex items-center gap-2 pb-2">
        <input
          type="checkbox"
          class="accent-accent"
          :checked="question.isOptional"
          @change="change({ isOptional: !question.isOptional })"
        />
        Optional
      </label>
    </div>
    <div v-if="question.choices.length > 0" class="flex flex-col gap-2">
      <div
        v-for="(choice, at) in question.choices"
        :key="choice.id"
        class="grid grid-cols-[minmax(0,1fr)_minmax(0,14rem)_auto] items-end gap-x-3"
      >
        <TextField
          :model-value="choice.words"
          :label="`Choice ${at + 1}`"
          :error="errorOf(`choices[${at}].words`)"
          @update:model-value="changeChoice(choice.id, String($event ?? ''))"
        />
        <ChoiceField
          :model-value="nextOf(choice.id)"
          label="Leads to"
          :choices="ways"
          @update:model-value="lead(choice.id, $event)"
        />
        <BaseButton
          kind="quiet"
          :disabled="question.choices.length <= 2"
          :aria-label="`Remove choice ${at + 1}: ${choice.words}`"
          @click="removeChoice(choice.id)"
          >Remove</BaseButton
        >
      </div>
      <div>
        <BaseButton
          v-if="question.choices.length < MOST_CHOICES"
          kind="quiet"
          @click="change({ choices: [...question.choices, newChoice()] })"
          >Add a choice</BaseButton
        >
      </div>
    </div>
    <template v-if="question.scale">
      <div class="flex flex-wrap gap-x-4 gap-y-3">
        <ChoiceField
          :model-value="String(question.scale.low)"
          class="w-24"
          label="From"
          :choices="[
            { value: '0', label: '0' },
            { value: '1', label: '1' },
          ]"
          @update:model-value="changeScale({ low: Number($event) })"
        />
        <TextField
          :model-value="question.scale.lowWords"
          class="w-40"
          label="which means"
          placeholder="not at all"
          @update:model-value="changeScale({ lowWords: String($event ?? '') })"
        />
        <ChoiceField
          :model-value="String(question.scale.high)"
          class="w-24"
          label="To"
          :choices="SCALE_ENDS"
          @update:model-value="changeScale({ high: Number($event) })"
        />
        <TextField
          :model-value="question.scale.highWords"
          class="w-40"
          label="which means"
          placeholder="very much"
          @update:model-value="changeScale({ highWords: String($event ?? '') })"
        />
      </div>
      <div v-for="(branch, at) in question.branches" :key="at" class="flex flex-wrap items-end gap-3">
        <ChoiceField
          :model-value="String(branch.low)"
          class="w-24"
          label="From"
          :choices="places"
          @update:model-value="changeBranch(at, { low: Number($event) })"
        />
        <ChoiceField
          :model-value="String(branch.high)"
          class="w-24"
          label="to"
          :choices="places"
          @update:model-value="changeBranch(at, { high: Number($event) })"
        />
        <ChoiceField
          :model-value="branch.next"
          class="w-56"
          label="leads to"
          :choices="ways.slice(1)"
          @update:model-value="changeBranch(at, { next: $event })"
        />
        <BaseButton kind="quiet" @click="change({ branches: question.branches.filter((_, index) => index !== at) })"
          >Remove</BaseButton
        >
      </div>
      <div><BaseButton kind="quiet" @click="addBranch">Lead some answers elsewhere</BaseButton></div>
    </template>
    <p v-if="errorOf('branches') ?? errorOf('choices')" class="text-sm text-rust" role="alert">
      {{ errorOf('branches') ?? errorOf('choices') }}
    </p>
  </fieldset>
</template>
