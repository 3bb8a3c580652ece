<script setup lang="ts">
import type { JobView } from '~~/shared/site'

/** Work in the background that concerns this experiment, with its progress. */
const store = useSheetStore()
const api = useApi()
const jobs = shallowRef<JobView[]>([])
const EVERY = 2000
const LATEST = 20
const isOpen = ({ state }: JobView) => state === 'waiting' || state === 'running' || state === 'failed'
const own = computed(() => jobs.value.filter((job) => job.experimentId === store.sheet?.id && isOpen(job)))

async function refresh(): Promise<void> {
  if (!store.sheet?.startedAt) return
  const latest = await api('listJobs', { site: store.place.site, query: { limit: LATEST } }).catch(() => null)
  if (latest) jobs.value = latest.items
}
async function cancel(job: JobView): Promise<void> {
  await api('cancelJob', { site: store.place.site, job: job.id }).catch(() => {})
  await refresh()
}
onMounted(refresh)
useIntervalFn(refresh, EVERY)
</script>

<template>
  <ul v-if="own.length > 0" class="flex flex-col gap-2" data-testid="jobs">
    <li
      v-for="job in own"
      :key="job.id"
      class="flex flex-wrap items-center gap-x-3 gap-y-1 border-l-4 border-line-strong py-1 pl-3"
    >
      <span>{{ job.title }} …</span>
      <progress :value="job.progress" max="1" class="h-2 w-40 accent-accent" :aria-label="job.title" />
      <span class="text-sm text-ink-soft">{{ job.problem ?? `${Math.round(job.progress * 100)} %` }}</span>
      <BaseButton class="ml-auto" kind="quiet" @click="cancel(job)">Cancel</BaseButton>
    </li>
  </ul>
</template>
