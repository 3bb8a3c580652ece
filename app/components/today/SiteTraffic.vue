<script setup lang="ts">
import { linesChart } from '~/charts/linesChart'
import type { DayMarker } from '~/charts/dayMarkers'
import type { TableColumn } from '~/data/tableColumn'
import { siteDays } from '~~/core/time/siteDay'
import type { ExperimentSummary } from '~~/shared/experiment'
import type { TrafficView } from '~~/shared/traffic'

/** Visitors of the site by day, of the days and visitors that one chooses. */
const props = defineProps<{ siteId: number; timeZone: string; experiments: readonly ExperimentSummary[] }>()
const api = useApi()
const { filter, daysBack, set } = useFilter(() => props.timeZone)
const { value: dimensions } = useLoaded(() => api('readDimensions', { site: props.siteId }))
const {
  value: traffic,
  problem,
  reload,
} = useLoaded(() => api('readTraffic', { site: props.siteId, query: { ...filter.value } }))
watch(filter, reload)

type Day = TrafficView['days'][number]
const countColumn = (id: 'visitors' | 'visits' | 'views', header: string): TableColumn<Day> => ({
  ...{ id, header },
  value: (day) => day[id],
  show: (day) => formatCount(day[id]),
  isNumeric: true,
})
const COLUMNS: readonly TableColumn<Day>[] = [
  { id: 'day', header: 'Day', value: ({ day }) => day, isHeading: true },
  countColumn('visitors', 'Visitors'),
  countColumn('visits', 'Visits'),
  countColumn('views', 'Page views'),
]
const lines = computed(() => [
  {
    name: 'Visitors',
    label: '',
    position: null,
    values: (traffic.value?.days ?? []).map(({ day, visitors }) => ({ day, value: visitors })),
  },
])
const markers = computed<DayMarker[]>(() => {
  const dayOf = siteDays(props.timeZone)
  const { from, to } = filter.value
  return props.experiments
    .flatMap(({ startedAt, endedAt }) => [
      ...(startedAt ? [{ day: dayOf(Date.parse(startedAt)), text: '▸' }] : []),
      ...(endedAt ? [{ day: dayOf(Date.parse(endedAt)), text: '■' }] : []),
    ])
    .filter(({ day }) => day >= from && day <= to)
})
const change = computed(() => {
  const { total, before } = traffic.value!
  return before.visitors === 0 ? null : total.visitors / before.visitors - 1
})
const counted = (count: number, unit: string) => `${formatCount(count)} ${unit}${count === 1 ? '' : 's'}`
const summary = computed(() => {
  const { visitors, visits, views } = traffic.value!.total
  return `${counted(visitors, 'visitor')} in ${counted(visits, 'visit')} with ${counted(views, 'page view')}`
})
</script>

<template>
  <div class="flex flex-col gap-4">
    <FilterBar :filter="filter" :days-back="daysBack" :dimensions="dimensions ?? []" @change="set" />
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!traffic" />
    <template v-else>
      <p>
        {{ summary
        }}<template v-if="change !== null">; visitors {{ formatLift(change) }} on as many days before</template>.
      </p>
      <ChartFrame
        title="Visitors a day"
        :note="`By the day on which a visit began; ▸ an experiment started, ■ one ended; ${timeZone}`"
        :summary="`Visitors a day: ${summary}.`"
        :draw="(tokens) => linesChart({ lines, unit: 'visitors', format: formatCount, markers }, tokens)"
        :columns="COLUMNS"
        :rows="traffic.days"
        :row-key="({ day }) => day"
      />
    </template>
  </div>
</template>
