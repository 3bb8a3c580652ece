<script setup lang="ts">
import type { Trait } from '~~/core/traffic/splitByTrait'
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import type { LeftOut } from '~/composables/useLeavingOut'

/** Visitors by variant and what they were, what may have put the split off, and the cause once it is named. */
const props = defineProps<{
  sheet: ExperimentSheet
  /** Counted so far: with more of them it is read again. */
  visitors: number
  mayDecide: boolean
  mayEdit: boolean
}>()
const emit = defineEmits<{ leaveOut: [whom: LeftOut, reason: string] }>()
const api = useApi()
const chosen = ref<Trait | null>(null)
const {
  value: split,
  problem,
  reload,
} = useLoaded(() => api('readSplit', { site: props.sheet.siteId, experiment: props.sheet.id }))
watchDebounced(() => props.visitors, reload, { debounce: 5000, maxWait: 30_000 })
const strongest = computed(
  () =>
    split.value?.traits.filter(({ matters }) => matters).toSorted((a, b) => a.adjustedPValue! - b.adjustedPValue!)[0],
)
/** The one where the split is off, unless another was chosen. */
const trait = computed(
  () =>
    split.value?.traits.find((each) => each.trait === chosen.value) ??
    strongest.value ??
    split.value?.traits.find((each) => each.trait === 'device') ??
    null,
)
</script>

<template>
  <section id="split" aria-labelledby="split-title" class="flex flex-col gap-4">
    <h3 id="split-title">Visitors by variant</h3>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!split" />
    <template v-else>
      <p v-if="split.looked < split.visitors" class="text-sm text-ink-soft">
        A sample: {{ formatCount(split.looked) }} of {{ formatCount(split.visitors) }} visitors.
      </p>
      <SplitCauses :causes="split.causes" />
      <SplitTraits v-model="chosen" :split="split" :shown="trait?.trait ?? null" />
      <SplitTable
        v-if="trait"
        :sheet="sheet"
        :split="split"
        :trait="trait"
        :may-decide="mayDecide"
        @leave-out="(whom, reason) => emit('leaveOut', whom, reason)"
      />
      <SplitSettlement :sheet="sheet" :may-edit="mayEdit" :causes="split.causes" />
    </template>
  </section>
</template>
