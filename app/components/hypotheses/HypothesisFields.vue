<script setup lang="ts">
import type { EvidenceChoices } from '~~/shared/evidence/replies'
import type { IdeaMetric } from '~~/shared/hypotheses/replies'
import { STRENGTH_CHOICES, type HypothesisDraft } from '~/data/hypothesisDraft'
import { assembleStatement } from '~~/core/hypotheses/statement'
import type { RankingTerms } from '~~/shared/hypotheses/hypothesis'
import { ideaPages } from '~/data/ideaWords'

/** What is written of a hypothesis: its parts, the statement that they make, and what is expected. */
const props = defineProps<{
  siteId: number
  errors: Readonly<Record<string, string>>
  metrics: readonly IdeaMetric[]
  people: readonly { id: number; name: string }[]
  terms: RankingTerms
  choices: EvidenceChoices | null
}>()
const draft = defineModel<HypothesisDraft>({ required: true })
const titles = ref<string[]>([])
const change = (changes: Partial<HypothesisDraft>) => (draft.value = { ...draft.value, ...changes })
const field = <Name extends keyof HypothesisDraft>(name: Name) =>
  computed({
    get: () => draft.value[name],
    set: (value: HypothesisDraft[Name]) => change({ [name]: value } as Partial<HypothesisDraft>),
  })
const [pages, audience, metric, direction] = [field('pages'), field('audience'), field('metric'), field('direction')]
const [low, likely, high, effortDays] = [field('low'), field('likely'), field('high'), field('effortDays')]
const [strength, owner, findings] = [field('strength'), field('owner'), field('findings')]
const assembled = computed(() =>
  assembleStatement({
    findings: titles.value,

    change: draft.value.change,
    reason: draft.value.reason,
    direction: draft.value.direction,
    pages: draft.value.pages ? ideaPages(draft.value.pages) : '',
    audience: draft.value.audience ? segmentInWords(draft.value.audience, props.choices) : '',
    metric: props.metrics.find(({ id }) => id === draft.value.metric)?.name ?? '',
  }),
)
const text = (event: Event) => (event.target as HTMLTextAreaElement).value
const tagsError = computed(() => Object.entries(props.errors).find(([name]) => name.startsWith('tags'))?.[1])
</script>

<template>
  <div class="flex flex-col gap-5">
    <TextField
      :model-value="draft.title"
      label="Title"
      placeholder="Three sizes in place of the vehicle’s length"
      :error="errors.title"
      @update:model-value="change({ title: String($event ?? '') })"
    />
    <FindingChoice v-model="findings" v-model:titles="titles" :site-id="siteId" :error="errors.findings" />
    <LabeledField v-slot="{ id, invalid, describedBy }" label="We expect that" :error="errors.change">
      <textarea
        :id="id"
        class="field"
        rows="2"
        placeholder="three sizes to choose from in place of the length in meters"
        :value="draft.change"
        :aria-invalid="invalid"
        :aria-describedby="describedBy"
        @input="change({ change: text($event) })"
      />
    </LabeledField>
    <div class="flex flex-wrap items-start gap-x-6 gap-y-4">
      <div>
        <PagesField v-model="pages" label="On pages whose address" :pages="choices?.pages ?? []" />
        <p v-if="errors.pages" class="text-sm text-rust" role="alert">{{ errors.pages }}</p>
      </div>
      <div>
        <SegmentField v-model="audience" label="For" :choices="choices" />
        <p v-if="errors.audience" class="text-sm text-rust" role="alert">{{ errors.audience }}</p>
      </div>
    </div>
    <div class="flex flex-wrap gap-x-6 gap-y-4">
      <ChoiceField
        v-model="direction"
        class="w-28"
        label="Will"
        :choices="[
          { value: 'up', label: 'raise' },
          { value: 'down', label: 'lower' },
        ]"
      />
      <ChoiceField
        v-model="metric"
        class="min-w-48 flex-1"
        label="Metric"
        :error="errors.metric"
        :choices="[
          { value: '', label: 'Choose a metric …' },
          ...metrics.filter(({ kind }) => kind !== 'ratio').map(({ id, name }) => ({ value: id, label: name })),
        ]"
      />
    </div>
    <LabeledField v-slot="{ id, invalid, describedBy }" label="Because" :error="errors.reason">
      <textarea
        :id="id"
        class="field"
        rows="2"
        placeholder="nobody on a phone stands beside their car with a tape measure"
        :value="draft.reason"
        :aria-invalid="invalid"
        :aria-describedby="describedBy"
        @input="change({ reason: text($event) })"
      />
    </LabeledField>
    <div data-testid="statement">
      <LabeledField
        v-if="draft.statement !== null"
        v-slot="{ id, invalid, describedBy }"
        label="The statement, in your words"
        :error="errors.statement"
      >
        <textarea
          :id="id"
          class="field"
          rows="4"
          :value="draft.statement"
          :aria-invalid="invalid"
          :aria-describedby="describedBy"
          @input="change({ statement: text($event) })"
        />
      </LabeledField>
      <p v-else class="border-l-4 border-line-strong py-1 pl-3">{{ assembled }}</p>
      <BaseButton
        class="mt-1"
        kind="quiet"
        @click="change({ statement: draft.statement === null ? assembled : null })"
        >{{ draft.statement === null ? 'Write it myself' : 'Put it together for me' }}</BaseButton
      >
    </div>
    <fieldset>
      <legend class="mb-1 font-semibold">What is expected</legend>
      <p class="mb-2 text-sm text-ink-soft">
        Relative improvement. Less than low or more than high would surprise you.
      </p>
      <div class="flex flex-wrap gap-x-4 gap-y-3">
        <PercentField v-model="low" class="w-28" label="Low" placeholder="0" :error="errors.low" />
        <PercentField v-model="likely" class="w-28" label="Likely" placeholder="5" :error="errors.likely" />
        <PercentField v-model="high" class="w-28" label="High" placeholder="12" :error="errors.high" />
        <TextField
          v-model="effortDays"
          class="w-32"
          label="Effort"
          numeric
          unit="days"
          placeholder="2"
          :error="errors.effortDays"
        />
        <ChoiceField v-model="strength" class="w-32" label="Evidence" :choices="STRENGTH_CHOICES" />
      </div>
    </fieldset>
    <fieldset v-if="terms.criteria.length > 0">
      <legend class="mb-1 font-semibold">Scores, 0 to 10</legend>
      <div class="flex flex-wrap gap-x-4 gap-y-3">
        <TextField
          v-for="criterion in terms.criteria"
          :key="criterion.id"
          :model-value="draft.scores[criterion.id] ?? ''"
          class="w-28"
          :label="criterion.name"
          numeric
          @update:model-value="change({ scores: { ...draft.scores, [criterion.id]: $event ?? '' } })"
        />
      </div>
      <p v-if="errors.scores" class="text-sm text-rust" role="alert">{{ errors.scores }}</p>
    </fieldset>
    <div class="flex flex-wrap gap-x-6 gap-y-4">
      <TextField
        :model-value="draft.tags"
        class="min-w-48 flex-1"
        label="Tags"
        placeholder="booking, phone"
        hint="Separated by commas."
        :error="tagsError"
        @update:model-value="change({ tags: String($event ?? '') })"
      />
      <ChoiceField
        v-model="owner"
        class="w-40"
        label="Owner"
        :error="errors.owner"
        :choices="[
          { value: '', label: 'no owner' },
          ...people.map(({ id, name }) => ({ value: String(id), label: name })),
        ]"
      />
    </div>
  </div>
</template>
