<script setup lang="ts">
import type { EvidenceChoices } from '~~/shared/evidence/replies'
import { newStep, stepName } from '~/data/funnelDraft'
import { FEWEST_STEPS, MOST_STEPS, type FunnelInput } from '~~/shared/evidence/funnel'

/** The way that a funnel is of: its steps, their order, and in what time. */
const props = defineProps<{ plan: FunnelInput; choices: EvidenceChoices | null; errors: Record<string, string> }>()
const emit = defineEmits<{ apply: [plan: FunnelInput] }>()
const copyOf = (plan: FunnelInput): FunnelInput => JSON.parse(JSON.stringify(plan)) as FunnelInput
const draft = ref(copyOf(props.plan))
watch(
  () => props.plan,
  (plan) => (draft.value = copyOf(plan)),
)
const limit = ref(draft.value.limitMinutes === null ? '' : String(draft.value.limitMinutes))
const ORDERS = [
  { value: 'loose', label: 'other pages may come between' },
  { value: 'strict', label: 'one page directly after another' },
]
const SCOPES = [
  { value: 'session', label: 'in one session' },
  { value: 'visitor', label: 'by one visitor, across sessions' },
]
const order = computed({
  get: () => (draft.value.isStrict ? 'strict' : 'loose'),
  set: (value) => (draft.value.isStrict = value === 'strict'),
})
const scope = computed({
  get: () => (draft.value.isWithinSession ? 'session' : 'visitor'),
  set: (value) => (draft.value.isWithinSession = value === 'session'),
})
const move = (index: number, by: number) => {
  const { steps } = draft.value
  const [step] = steps.splice(index, 1)
  steps.splice(index + by, 0, step!)
}
const errorOf = (index: number) =>
  Object.entries(props.errors).find(([field]) => field.includes(`steps[${index}]`))?.[1]

function apply(): void {
  const typed = limit.value.trim()
  emit('apply', {
    ...copyOf(draft.value),
    steps: draft.value.steps.map(({ name, source }) => ({ name: name.trim() || stepName(source), source })),
    // What is no number is told where it was typed.
    limitMinutes: typed === '' ? null : (Number(typed.replace(',', '.')) as number),
  })
}
</script>

<template>
  <form class="flex flex-col gap-4" novalidate @submit.prevent="apply">
    <div class="flex flex-col gap-3">
      <FunnelStepFields
        v-for="(step, index) in draft.steps"
        :key="index"
        v-model="draft.steps[index]!"
        :number="index + 1"
        :choices="choices"
        :error="errorOf(index)"
      >
        <BaseButton v-if="index > 0" kind="quiet" :aria-label="`Move step ${index + 1} up`" @click="move(index, -1)"
          >↑</BaseButton
        >
        <BaseButton
          v-if="draft.steps.length > FEWEST_STEPS"
          kind="quiet"
          :aria-label="`Remove step ${index + 1}: ${step.name}`"
          @click="draft.steps.splice(index, 1)"
          >Remove</BaseButton
        >
      </FunnelStepFields>
    </div>
    <div class="flex flex-wrap items-end gap-x-5 gap-y-3">
      <ChoiceField v-model="order" class="w-60" label="Order" :choices="ORDERS" />
      <ChoiceField v-model="scope" class="w-64" label="Within" :choices="SCOPES" />
      <TextField
        v-model="limit"
        class="w-44"
        label="At most"
        numeric
        unit="minutes"
        placeholder="no limit"
        :error="errors['plan.limitMinutes']"
      />
      <BaseButton v-if="draft.steps.length < MOST_STEPS" kind="quiet" @click="draft.steps.push(newStep('visit'))"
        >Add a step</BaseButton
      >
      <BaseButton type="submit" kind="main">Show the funnel</BaseButton>
    </div>
  </form>
</template>
