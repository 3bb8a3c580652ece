<script setup lang="ts">
/** What the watch has found about an experiment or a rollout, now and before. */
const props = defineProps<{
  siteId: number
  of: { experiment: number } | { rollout: number }
  timeZone: string
  mayEdit: boolean
}>()
const api = useApi()
const {
  value: alarms,
  problem,
  reload,
} = useLoaded(() => api('readAlarms', { site: props.siteId, query: { ...props.of } }))
onNews((site, news) => void (site === props.siteId && news?.kind === 'alarms' && reload()))
</script>

<template>
  <section v-if="problem || (alarms && alarms.length > 0)" id="alarms" aria-labelledby="alarms-title" class="pt-3">
    <h2 id="alarms-title" class="mb-1 text-base font-semibold">Alarms</h2>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <AlarmList
      v-else
      :alarms="alarms!"
      :site-id="siteId"
      :time-zone="timeZone"
      :may-edit="mayEdit"
      is-of-one
      @changed="reload"
    />
  </section>
</template>
