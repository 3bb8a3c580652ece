<script setup lang="ts">
import type { CrowdPlace } from '~~/core/traffic/crowd'
import type { ExperimentResults } from '~~/shared/experiments/resultsReplies'
import type { ExperimentSheet } from '~~/shared/experiments/replies'

/** Whether the data can be trusted, and where it cannot, or on demand, visitors by variant and the usual causes. */
const props = defineProps<{
  sheet: ExperimentSheet
  results: ExperimentResults
  mayDecide: boolean
  mayEdit: boolean
}>()
const emit = defineEmits<{ leftOut: [] }>()
const { leaveOut } = useLeavingOut(() => emit('leftOut'))
const leaveCrowdOut = (crowd: CrowdPlace) =>
  leaveOut({ kind: 'crowd', crowd }, 'They have more in common than is likely.')
const isAskedFor = ref(useRoute().hash === '#split')
const isMoving = computed(() => props.sheet.periods.length > 0)
const isSplitShown = computed(() => isAskedFor.value || props.results.verdict?.kind === 'distrust')
</script>

<template>
  <AllocationNote
    v-if="results.allocation"
    :allocation="results.allocation"
    :arms="results.arms"
    :crossed="results.crossed"
    :soundness="results.soundness"
    :may-decide="mayDecide"
    :is-moving="isMoving"
    :is-looked-at="isSplitShown"
    @leave-out="leaveCrowdOut"
    @look="isAskedFor = true"
  />
  <SplitPanel
    v-if="isSplitShown && !isMoving"
    :sheet="sheet"
    :visitors="results.visitors"
    :may-decide="mayDecide"
    :may-edit="mayEdit"
    @leave-out="leaveOut"
  />
</template>
