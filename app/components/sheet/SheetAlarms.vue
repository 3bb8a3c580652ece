<script setup lang="ts">
import type { ExperimentSheet } from '~~/shared/experiments/replies'

/** What the watch has found about this experiment, now and before. */
const props = defineProps<{ sheet: ExperimentSheet; mayEdit: boolean }>()
const api = useApi()
const {
  value: alarms,
  problem,
  reload,
} = useLoaded(() => api('readAlarms', { site: props.sheet.siteId, query: { experiment: props.sheet.id } }))
onNews((site, news) => void (site === props.sheet.siteId && news?.kind === 'alarms' && reload()))
</script>

<template>
  <section v-if="problem || (alarms && alarms.length > 0)" id="alarms" aria-labelledby="alarms-title" class="pt-3">
    <h2 id="alarms-title" class="mb-1 text-base font-semibold">Alarms</h2>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <AlarmList
      v-else
      :alarms="alarms!"
      :site-id="sheet.siteId"
      :time-zone="sheet.timeZone"
      :may-edit="mayEdit"
      is-of-one
      @changed="reload"
    />
  </section>
</template>
