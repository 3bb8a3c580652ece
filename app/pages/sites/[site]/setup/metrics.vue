<script setup lang="ts">
import type { MetricEntry } from '~~/shared/metrics/replies'

useHead({ title: 'Metrics · Vetch' })
const api = useApi()
const account = useAccountStore()
const route = useRoute('sites-site-setup-metrics')
const siteId = Number(route.params.site)
const { value: entries, problem, reload } = useLoaded(() => api('listMetrics', { site: siteId }))
const {
  value: view,
  problem: figuresProblem,
  reload: reloadFigures,
} = useLoaded(() => api('readMetricFigures', { site: siteId }))
const mayEdit = computed(() => ['owner', 'editor'].includes(account.site(siteId)?.role ?? ''))
/** Kept in the address, so that one metric can be shared. */
const chosen = useQueryChoice('metric', () => ['', ...(entries.value ?? []).map(({ id }) => id)])
const opened = computed<MetricEntry | null>(() => entries.value?.find(({ id }) => id === chosen.value) ?? null)
</script>

<template>
  <div class="max-w-6xl p-6 lg:p-8">
    <SetupHead :site-id="siteId" note="What this site measures, what it came to in four weeks, and who uses it" />
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!entries" />
    <EmptyNote
      v-else-if="entries.length === 0"
      title="No metrics yet"
      text="A metric joins the site when it is added to an experiment."
    />
    <template v-else>
      <ProblemNote v-if="figuresProblem" :text="figuresProblem" @retry="reloadFigures" />
      <MetricTable :entries="entries" :view="view" @open="chosen = $event" />
    </template>
    <MetricDrawer
      v-if="opened"
      :site-id="siteId"
      :entry="opened"
      :may-edit="mayEdit"
      @close="chosen = ''"
      @renamed="reload"
    />
  </div>
</template>
