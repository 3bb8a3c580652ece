<script setup lang="ts">
import type { EvidenceChoices } from '~~/shared/evidence/replies'
import type { PageMatch } from '~~/core/targeting/pageRule'
import { newStep, plainType, STEP_TYPES, stepName, type StepType } from '~/data/funnelDraft'
import type { FunnelInput } from '~~/shared/evidence/funnel'

/** One step of a funnel: what it is, and what it is called. */
const props = defineProps<{ number: number; choices: EvidenceChoices | null; error?: string }>()
const step = defineModel<FunnelInput['steps'][number]>({ required: true })
const MATCHES: { value: PageMatch; label: string }[] = [
  { value: 'exact', label: 'is' },
  { value: 'begins', label: 'begins with' },
  { value: 'contains', label: 'contains' },
]
const metricOf = computed(() =>
  props.choices?.metrics.find(({ source }) => JSON.stringify(source) === JSON.stringify(step.value.source)),
)
const isMetric = ref(false)
const type = computed<StepType>({
  get: () => (isMetric.value ? 'metric' : plainType(step.value.source)),
  set: (value) => {
    isMetric.value = value === 'metric'
    if (value !== 'metric') step.value = newStep(value)
    else if (props.choices?.metrics[0]) chooseMetric(props.choices.metrics[0].id)
  },
})
function chooseMetric(id: string): void {
  const metric = props.choices?.metrics.find((each) => each.id === id)
  if (metric) step.value = { name: metric.name, source: metric.source }
}
/** A name that nobody has typed follows what the step is. */
function change(source: FunnelInput['steps'][number]['source']): void {
  const { name, source: before } = step.value
  const isOwnName = name !== '' && name !== stepName(before)
  step.value = { name: isOwnName ? name : stepName(source), source }
}
const listId = useId()
</script>

<template>
  <div class="flex flex-wrap items-start gap-x-3 gap-y-2">
    <span class="mt-8 w-5 text-right text-ink-soft">{{ number }}</span>
    <ChoiceField v-model="type" class="w-44" label="Step" :choices="STEP_TYPES" />
    <template v-if="type === 'metric'">
      <LabeledField v-slot="{ id }" class="w-64" label="Metric" :error="error">
        <select
          :id="id"
          class="field"
          :value="metricOf?.id"
          @change="chooseMetric(($event.target as HTMLSelectElement).value)"
        >
          <option v-for="each in choices?.metrics ?? []" :key="each.id" :value="each.id">{{ each.name }}</option>
        </select>
      </LabeledField>
    </template>
    <template v-else-if="step.source.type === 'visit'">
      <ChoiceField
        class="w-32"
        label="Address"
        :choices="MATCHES"
        :model-value="step.source.page.match"
        @update:model-value="change({ type: 'visit', page: { ...step.source.page, match: $event } })"
      />
      <LabeledField v-slot="{ id, invalid, describedBy }" class="w-52" label="Path" :error="error">
        <input
          :id="id"
          class="field"
          placeholder="/book"
          :list="listId"
          :value="step.source.page.value"
          :aria-invalid="invalid"
          :aria-describedby="describedBy"
          @input="
            change({
              type: 'visit',
              page: { match: step.source.page.match, value: ($event.target as HTMLInputElement).value },
            })
          "
        />
        <datalist :id="listId"><option v-for="each in choices?.pages ?? []" :key="each" :value="each" /></datalist>
      </LabeledField>
    </template>
    <TextField
      v-else-if="step.source.type === 'event'"
      class="w-64"
      label="Name of the event"
      placeholder="order"
      :error="error"
      :model-value="step.source.name"
      @update:model-value="change({ type: 'event', name: String($event ?? '') })"
    />
    <TextField
      v-else-if="step.source.type === 'click' || step.source.type === 'submit'"
      class="w-64"
      :label="step.source.type === 'click' ? 'Element' : 'Form'"
      placeholder="#book-crossing"
      :error="error"
      :model-value="step.source.selector"
      @update:model-value="change({ type: step.source.type, selector: String($event ?? '') } as typeof step.source)"
    />
    <TextField v-model="step.name" class="w-44" label="Called" :placeholder="stepName(step.source)" />
    <span class="mt-6"><slot /></span>
  </div>
</template>
