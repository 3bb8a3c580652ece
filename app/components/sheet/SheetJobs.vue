<script setup lang="ts">
import type { JobView } from '~~/shared/sites/replies'

/** Work in the background on this experiment's numbers, with its progress. */
const store = useSheetStore()
const api = useApi()
const jobs = shallowRef<JobView[]>([])
const EVERY = 2000
const LATEST = 20
const isOpen = ({ state }: JobView) => state === 'waiting' || state === 'running' || state === 'failed'
const own = computed(() =>
  jobs.value.filter((job) => job.kind === 'refold' && job.experimentId === store.sheet?.id && isOpen(job)),
)

async function refresh(): Promise<void> {
  if (!store.sheet?.startedAt) return
  const latest = await api('listJobs', { site: store.place.site, query: { limit: LATEST } }).catch(() => null)
  if (latest) jobs.value = latest.items
}
onMounted(refresh)
useIntervalFn(refresh, EVERY)
</script>

<template>
  <ul v-if="own.length > 0" class="flex flex-col gap-2" data-testid="jobs">
    <li v-for="job in own" :key="job.id">
      <JobProgress :title="job.title" :progress="job.progress" :problem="job.problem" has-no-cancel />
    </li>
  </ul>
</template>
