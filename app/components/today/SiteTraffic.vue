<script setup lang="ts">
/** Visitors of the site by day, of the days and visitors that one chooses. */
const props = defineProps<{ siteId: number }>()
const evidence = useEvidence(props.siteId)
const { api, filter, daysBack, set, choices, timeZone } = evidence
const {
  value: report,
  problem,
  reload,
} = useLoaded(() => api('reportOverTime', { site: props.siteId, query: { ...filter.value } }))
watch(filter, reload)
const { markers } = useMarks(props.siteId, () => filter.value)
const change = computed(() => {
  const { total, before } = report.value!
  return before.visitors === 0 ? null : total.visitors / before.visitors - 1
})
const counted = (count: number, unit: string) => `${formatCount(count)} ${unit}${count === 1 ? '' : 's'}`
const summary = computed(() => {
  const { visitors, sessions, views } = report.value!.total
  return `${counted(visitors, 'visitor')} in ${counted(sessions, 'session')} with ${counted(views, 'page view')}`
})
</script>

<template>
  <div class="flex flex-col gap-4">
    <FilterBar :filter="filter" :days-back="daysBack" :choices="choices" has-no-pages @change="set" />
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!report" />
    <template v-else>
      <p>
        {{ summary
        }}<template v-if="change !== null">; visitors {{ formatLift(change) }} against the previous period</template>.
      </p>
      <OverTimeChart
        :report="report"
        :other="null"
        other-name=""
        measure="visitors"
        :format="formatCount"
        :time-zone="timeZone"
        :to="filter.to"
        :markers="markers"
      />
    </template>
  </div>
</template>
