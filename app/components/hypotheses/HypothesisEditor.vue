<script setup lang="ts">
import type { HypothesesView } from '~~/shared/hypotheses/replies'
import type { HypothesisDraft } from '~/data/hypothesisDraft'

/** Writes a hypothesis; beside it what is like it, what it would be worth, and what it would cost to learn. */
const props = defineProps<{
  siteId: number
  view: HypothesesView
  errors: Readonly<Record<string, string>>
  isSaving: boolean
  /** The one that is changed; none while a new one is written. */
  hypothesis?: number
}>()
const emit = defineEmits<{ save: []; cancel: [] }>()
const draft = defineModel<HypothesisDraft>({ required: true })
const { choices } = useEvidence(props.siteId)
const { assessment, problem, isLoading } = useIdeaAssessment(props.siteId, draft)
const metric = computed(() => props.view.metrics.find(({ id }) => id === draft.value.metric))
const number = (value: number | string | null) =>
  value === null || value === '' || Number.isNaN(Number(value)) ? null : Number(value)
const idea = computed(() => {
  const [low, likely, high] = [number(draft.value.low), number(draft.value.likely), number(draft.value.high)]
  return {
    metric: draft.value.metric || null,
    audience: draft.value.audience || null,
    likely,
    effortDays: number(draft.value.effortDays),
    typed: low === null || likely === null || high === null || low > high ? null : { low, likely, high },
  }
})
</script>

<template>
  <form
    class="grid gap-x-10 gap-y-8 xl:grid-cols-[minmax(0,42rem)_minmax(0,26rem)]"
    novalidate
    @submit.prevent="emit('save')"
  >
    <div class="flex flex-col gap-6">
      <HypothesisFields
        v-model="draft"
        :site-id="siteId"
        :errors="errors"
        :metrics="view.metrics"
        :people="view.people"
        :terms="view.terms"
        :choices="choices"
      />
      <div class="flex gap-2">
        <BaseButton type="submit" kind="main" :disabled="isSaving">Save</BaseButton>
        <BaseButton kind="quiet" @click="emit('cancel')">Cancel</BaseButton>
      </div>
    </div>
    <div class="flex flex-col gap-8">
      <section aria-labelledby="worth" :aria-busy="isLoading" :class="{ 'opacity-60': isLoading && assessment }">
        <h2 id="worth" class="mb-2">Worth, and cost to learn</h2>
        <p v-if="problem" class="text-rust" role="alert">{{ problem }}</p>
        <IdeaAssessment
          v-else
          :site-id="siteId"
          :assessment="assessment"
          :idea="idea"
          :metric="metric"
          :terms="view.terms"
          :past="view.past"
          :currency="view.currency"
        />
      </section>
      <SimilarIdeas :site-id="siteId" :text="`${draft.title} ${draft.change} ${draft.reason}`" :except="hypothesis" />
    </div>
  </form>
</template>
