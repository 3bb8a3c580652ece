<script setup lang="ts">
import type { HypothesisSummary, IdeaMetric } from '~~/shared/hypotheses/replies'
import { draggable } from '@atlaskit/pragmatic-drag-and-drop/element/adapter'
import { gainInWords, weeksInWords } from '~/data/ideaWords'
import type { Stage } from '~~/shared/hypotheses/hypothesis'

/** A hypothesis on the board, with how its experiment stands. */
const props = defineProps<{
  siteId: number
  hypothesis: HypothesisSummary
  metric: IdeaMetric | undefined
  currency: string
  mayEdit: boolean
}>()
const emit = defineEmits<{ move: [stage: Stage, reason: string | null] }>()
const card = useTemplateRef<HTMLElement>('card')
const field = useTemplateRef('field')
const isDragged = ref(false)
defineExpose({ holds: (id: number) => id === props.hypothesis.id, ask: (stage: Stage) => field.value?.ask(stage) })
watchEffect((onCleanup) => {
  if (!card.value || !props.mayEdit) return
  const { id } = props.hypothesis
  onCleanup(
    draggable({
      element: card.value,
      getInitialData: () => ({ card: id }),
      onDragStart: () => (isDragged.value = true),
      onDrop: () => (isDragged.value = false),
    }),
  )
})
const worth = computed(() => {
  const { assessment } = props.hypothesis
  if (!assessment?.worth) return null
  const learned = assessment.untestable ? null : assessment.cost?.weeks
  return `${gainInWords(assessment, props.metric, props.currency)} a month${learned ? `, ${weeksInWords(learned)} to learn` : ''}`
})
const untestable = computed(() => {
  const { stage, assessment } = props.hypothesis
  return stage === 'new' || stage === 'worth testing' ? (assessment?.untestable ?? null) : null
})
const domain = computed(() => symmetricDomain((props.hypothesis.experiment?.interval ?? []).map(Math.abs), 0.1))
</script>

<template>
  <li
    ref="card"
    class="flex flex-col gap-1.5 rounded border border-line bg-raised p-2.5"
    :class="[{ 'opacity-40': isDragged }, mayEdit ? 'cursor-grab' : '']"
    :data-hypothesis="hypothesis.id"
  >
    <NuxtLink
      :to="`/sites/${siteId}/hypotheses/${hypothesis.id}`"
      class="font-medium break-words text-accent hover:underline"
      draggable="false"
      >{{ hypothesis.title }}</NuxtLink
    >
    <p v-if="worth" class="text-sm text-ink-soft">{{ worth }}</p>
    <p v-if="untestable" class="text-sm text-ink-soft">
      {{ untestable }}
    </p>
    <div v-if="hypothesis.experiment" class="flex flex-col gap-1 border-t border-line pt-1.5 text-sm">
      <NuxtLink
        :to="`/sites/${siteId}/experiments/${hypothesis.experiment.id}`"
        class="break-words hover:underline"
        draggable="false"
        >{{ hypothesis.experiment.name }}</NuxtLink
      >
      <span class="flex flex-wrap items-center gap-x-2">
        <StateBadge :state="hypothesis.experiment.state" />
        <span v-if="hypothesis.experiment.verdict">{{ hypothesis.experiment.verdict }}</span>
      </span>
      <IntervalTrack
        v-if="hypothesis.experiment.interval"
        :interval="hypothesis.experiment.interval"
        :estimate="hypothesis.experiment.lift"
        :smallest-lift="hypothesis.experiment.smallestLift"
        :domain="domain"
        :direction="hypothesis.direction"
        small
      />
    </div>
    <div class="flex items-end justify-between gap-2 text-sm text-ink-soft">
      <span>{{ hypothesis.owner?.name ?? 'no owner' }}</span>
      <StageField
        v-if="mayEdit"
        ref="field"
        class="w-32"
        :stage="hypothesis.stage"
        :title="hypothesis.title"
        is-bare
        @move="(stage, reason) => emit('move', stage, reason)"
      />
    </div>
  </li>
</template>
