<script setup lang="ts">
import type { ExperimentResults } from '~~/shared/experiments/resultsReplies'
import type { AllocationCheck } from '~~/core/statistics/allocation'
import type { SoundnessFinding } from '~~/core/statistics/soundness'

const props = defineProps<{
  allocation: AllocationCheck
  arms: ExperimentResults['arms']
  crossed: number
  soundness: readonly SoundnessFinding[]
  /** Whether whoever looks may leave visitors out. */
  mayDecide: boolean
  /** Where the split moves, visitors by what they were mix weights, and are not looked at. */
  isMoving: boolean
  /** Whether visitors by variant are shown already. */
  isLookedAt: boolean
}>()
const emit = defineEmits<{ leaveOut: [crowd: NonNullable<SoundnessFinding['crowd']>]; look: [] }>()
const words = computed(() =>
  props.arms
    .map(
      (arm, index) =>
        `${arm.name} ${formatCount(arm.visitors)} of ${formatCount(Math.round(props.allocation.expected[index] ?? 0))} expected`,
    )
    .join('; '),
)
const others = computed(() => props.soundness.filter(({ kind }) => kind !== 'allocation'))
const ofWeights = computed(() =>
  props.allocation.alarm ? 'Sample ratio mismatch: the split is not what was set.' : 'The split is as it was set.',
)
const ofPeriods = computed(() =>
  props.allocation.alarm
    ? 'Sample ratio mismatch: the split is not what the weights of its periods say.'
    : 'The split is as the weights of its periods say.',
)
const explain = useNumberExplanations()
</script>

<template>
  <div class="text-sm" data-testid="allocation">
    <h3 class="mb-1 text-base">Is the data sound?</h3>
    <p :class="allocation.alarm ? 'font-semibold text-rust' : ''">
      <span aria-hidden="true">{{ allocation.alarm ? '✕' : '✓' }}</span>
      {{ isMoving ? ofPeriods : ofWeights }}
    </p>
    <p class="text-ink-soft">
      <ExplainedNumber :load="explain('allocation')"
        >{{ words }}; {{ formatPEquals(allocation.sequentialPValue) }} however often one looks.</ExplainedNumber
      >
    </p>
    <p v-for="finding in others" :key="finding.text" :class="finding.isBreaking ? 'font-semibold text-rust' : ''">
      <span aria-hidden="true">{{ finding.isBreaking ? '✕' : '!' }}</span> {{ finding.text }}
      <BaseButton v-if="finding.crowd && mayDecide" class="py-0" kind="quiet" @click="emit('leaveOut', finding.crowd)"
        >Leave them out</BaseButton
      >
    </p>
    <p v-if="crossed > 0 && !others.some(({ kind }) => kind === 'crossed')" class="text-ink-soft">
      {{ formatCount(crossed) }} visitor{{ crossed === 1 ? ' was' : 's were' }} seen in more than one variant and
      counted in the first.
    </p>
    <BaseButton v-if="!isMoving && !isLookedAt" class="mt-1" kind="quiet" @click="emit('look')"
      >Visitors by variant</BaseButton
    >
  </div>
</template>
