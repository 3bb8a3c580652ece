<script setup lang="ts">
import { comparisonsOf, NUMBER_COMPARISONS, TEXT_COMPARISONS, valuesOf } from '~~/core/targeting/comparisons'
import type { Comparison, FactTest } from '~~/core/targeting/condition'
import { FACT_WORDS } from '~~/core/targeting/conditionWords'
import { NAMED_FACTS, type Fact } from '~~/core/targeting/visitorFacts'
import { COMPARISON_LABELS, dayFromNumber, FACT_GROUPS, newTest, numberFromDay } from '~/audience/conditionDrafts'

/** One thing that is asked of a visitor, with fields for what it is compared with. */
const props = defineProps<{ siteId: number; test: FactTest; error?: string }>()
const emit = defineEmits<{ change: [test: FactTest]; commit: []; remove: [] }>()
const set = (changes: Partial<FactTest>) => emit('change', { ...props.test, ...changes })
function choose(changes: Partial<FactTest>): void {
  set(changes)
  emit('commit')
}
const fact = computed(() => props.test.fact)
const listed = computed(() => valuesOf(fact.value))
const takesTexts = computed(() => !listed.value && TEXT_COMPARISONS.includes(props.test.is))
const takesNumber = computed(() => NUMBER_COMPARISONS.includes(props.test.is))
const isSeveral = computed(() => !['regex', 'versionLeast', 'versionMost'].includes(props.test.is))
/** As it is typed: several values with commas between them. */
const typed = computed(() => (props.test.texts ?? []).join(', '))
const setTexts = (text: string) => set({ texts: isSeveral.value ? text.split(',').map((each) => each.trim()) : [text] })
function toggle(value: string): void {
  const texts = props.test.texts ?? []
  choose({ texts: texts.includes(value) ? texts.filter((each) => each !== value) : [...texts, value] })
}
const setNumber = (field: 'number' | 'to' | 'days', value: unknown) => {
  const text = String(value ?? '').trim()
  set({ [field]: text === '' ? undefined : Number.isNaN(Number(text)) ? (text as unknown as number) : Number(text) })
}
const api = useApi()
const { value: choices } = useLoaded(async () =>
  fact.value === 'variant' ? api('readEvidenceChoices', { site: props.siteId }) : null,
)
const { value: saved } = useLoaded(async () =>
  fact.value === 'audience' ? api('listAudiences', { site: props.siteId }) : null,
)
const experiments = computed(() => [
  ...new Map((choices.value?.variants ?? []).map(({ experimentId, experiment }) => [experimentId, experiment])),
])
const variants = computed(() =>
  (choices.value?.variants ?? []).filter(({ experimentId }) => experimentId === props.test.id),
)
function toggleVariant(position: number): void {
  const numbers = props.test.numbers ?? []
  choose({ numbers: numbers.includes(position) ? numbers.filter((each) => each !== position) : [...numbers, position] })
}
</script>

<template>
  <div class="flex flex-wrap items-end gap-x-3 gap-y-2">
    <LabeledField v-slot="{ id }" class="w-52" label="Asks for">
      <select
        :id="id"
        class="field"
        :value="fact"
        @change="emit('change', newTest(($event.target as HTMLSelectElement).value as Fact))"
      >
        <optgroup v-for="group in FACT_GROUPS" :key="group.label" :label="group.label">
          <option v-for="each in group.facts" :key="each" :value="each">{{ FACT_WORDS[each] }}</option>
        </optgroup>
      </select>
    </LabeledField>
    <TextField
      v-if="NAMED_FACTS.includes(fact)"
      class="w-36"
      :model-value="test.name ?? ''"
      :label="fact === 'did' ? 'Event' : 'Name'"
      :placeholder="fact === 'data' ? 'basket.total' : undefined"
      @update:model-value="set({ name: String($event ?? '') })"
      @commit="emit('commit')"
    />
    <ChoiceField
      v-if="comparisonsOf(fact).length > 1"
      class="w-44"
      :model-value="test.is"
      label="Compared"
      :choices="comparisonsOf(fact).map((each) => ({ value: each, label: COMPARISON_LABELS[each] }))"
      @update:model-value="choose({ is: $event as Comparison })"
    />
    <fieldset v-if="listed" class="flex flex-wrap gap-x-3 py-1.5">
      <legend class="sr-only">{{ FACT_WORDS[fact] }}</legend>
      <label v-for="each in listed" :key="each" class="flex items-center gap-1.5">
        <input
          type="checkbox"
          class="accent-accent"
          :checked="test.texts?.includes(each) ?? false"
          @change="toggle(each)"
        />{{ each }}
      </label>
    </fieldset>
    <TextField
      v-if="takesTexts"
      class="min-w-40 flex-1"
      :model-value="typed"
      :label="isSeveral ? 'Any of' : 'Value'"
      :placeholder="fact === 'country' ? 'IE, GB' : undefined"
      @update:model-value="setTexts(String($event ?? ''))"
      @commit="emit('commit')"
    />
    <template v-if="takesNumber && fact !== 'date'">
      <TextField
        v-for="field in test.is === 'between' ? (['number', 'to'] as const) : (['number'] as const)"
        :key="field"
        class="w-24"
        :model-value="test[field] ?? ''"
        :label="field === 'to' ? 'To' : test.is === 'between' ? 'From' : 'Number'"
        numeric
        @update:model-value="setNumber(field, $event)"
        @commit="emit('commit')"
      />
    </template>
    <template v-if="fact === 'date'">
      <TextField
        v-for="field in test.is === 'between' ? (['number', 'to'] as const) : (['number'] as const)"
        :key="field"
        class="w-40"
        :model-value="dayFromNumber(test[field])"
        :label="field === 'to' ? 'To' : 'Day'"
        type="date"
        @update:model-value="set({ [field]: numberFromDay(String($event ?? '')) })"
        @commit="emit('commit')"
      />
    </template>
    <TextField
      v-if="fact === 'did' || fact === 'seen'"
      class="w-36"
      :model-value="test.days ?? ''"
      label="In the last"
      unit="days"
      numeric
      @update:model-value="setNumber('days', $event)"
      @commit="emit('commit')"
    />
    <ChoiceField
      v-if="fact === 'hour' || fact === 'weekday' || fact === 'date'"
      class="w-40"
      :model-value="test.zone ?? 'site'"
      label="In the time of"
      :choices="[
        { value: 'site', label: 'the site' },
        { value: 'visitor', label: 'the visitor' },
      ]"
      @update:model-value="choose({ zone: $event })"
    />
    <LabeledField v-if="fact === 'audience'" v-slot="{ id }" class="w-64" label="Audience">
      <select
        :id="id"
        class="field"
        :value="test.id"
        @change="choose({ id: Number(($event.target as HTMLSelectElement).value) })"
      >
        <option v-for="each in saved ?? []" :key="each.id" :value="each.id">{{ each.name }}</option>
      </select>
    </LabeledField>
    <template v-if="fact === 'variant'">
      <LabeledField v-slot="{ id }" class="w-56" label="Experiment">
        <select
          :id="id"
          class="field"
          :value="test.id"
          @change="set({ id: Number(($event.target as HTMLSelectElement).value), numbers: [] })"
        >
          <option v-for="[id_, name] in experiments" :key="id_" :value="id_">{{ name }}</option>
        </select>
      </LabeledField>
      <fieldset class="flex flex-wrap gap-x-3 py-1.5">
        <legend class="sr-only">Variants</legend>
        <label v-for="each in variants" :key="each.position" class="flex items-center gap-1.5">
          <input
            type="checkbox"
            class="accent-accent"
            :checked="test.numbers?.includes(each.position) ?? false"
            @change="toggleVariant(each.position)"
          />{{ each.variant }}
        </label>
      </fieldset>
    </template>
    <BaseButton kind="quiet" :aria-label="`Remove the condition on ${FACT_WORDS[fact]}`" @click="emit('remove')"
      >Remove</BaseButton
    >
    <PageRuleFields
      v-if="fact === 'seen' && test.page"
      class="w-full"
      :rule="test.page"
      @change="set({ page: { ...test.page!, ...$event } })"
      @commit="emit('commit')"
    />
    <p v-if="error" class="w-full text-sm text-rust" role="alert">{{ error }}</p>
  </div>
</template>
