<script setup lang="ts">
import type { EvidenceChoices } from '~~/shared/evidence/replies'

/** What stands out by itself in some days: the first of it, and all on demand. */
const props = defineProps<{
  siteId: number
  filter: Filter
  daysBack: number | null
  choices: EvidenceChoices | null
  mayEdit: boolean
}>()
const emit = defineEmits<{ kept: []; change: [changes: FilterChange] }>()
const api = useApi()
/** Of everybody: a segment that one has looked at elsewhere cannot be seen here. */
const days = computed(() => ({ from: props.filter.from, to: props.filter.to }))
const {
  value: candidates,
  problem,
  isLoading,
  reload,
} = useLoaded(() => api('reportCandidates', { site: props.siteId, query: days.value }))
watch(days, reload)
</script>

<template>
  <section aria-labelledby="candidates">
    <div class="mb-2 flex flex-wrap items-end justify-between gap-3">
      <h2 id="candidates">Worth a look</h2>
      <DaysField :filter="filter" :days-back="daysBack" @change="emit('change', $event)" />
    </div>
    <SampleNote class="mb-3" :choices="choices" what="Times in fields and dead clicks" />
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!candidates" />
    <CandidateList
      v-else
      :site-id="siteId"
      :found="candidates"
      :filter="days"
      :may-edit="mayEdit"
      :class="{ 'opacity-60': isLoading }"
      :aria-busy="isLoading"
      @kept="emit('kept')"
    />
  </section>
</template>
