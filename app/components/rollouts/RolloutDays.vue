<script setup lang="ts">
import type { RolloutDay, RolloutView } from '~~/shared/rollouts/replies'
import { linesChart } from '~/charts/linesChart'
import type { TableColumn } from '~/data/tableColumn'

/** How many visitors got it, day by day. */
const props = defineProps<{ siteId: number; rollout: RolloutView; timeZone: string }>()
const api = useApi()
const {
  value: days,
  problem,
  reload,
} = useLoaded(() => api('listRolloutDays', { site: props.siteId, rollout: props.rollout.id }))
const columns: TableColumn<RolloutDay>[] = [
  { id: 'day', header: 'Day', value: ({ day }) => day, isHeading: true },
  {
    id: 'visitors',
    header: 'Visitors',
    isNumeric: true,
    value: ({ visitors }) => visitors,
    show: ({ visitors }) => formatCount(visitors),
  },
]
const lines = computed(() => [
  {
    name: props.rollout.variant.name,
    label: '',
    position: props.rollout.variant.position,
    values: (days.value ?? []).map(({ day, visitors }) => ({ day, value: visitors })),
  },
])
const unfinished = unfinishedDay(props.timeZone)
</script>

<template>
  <ProblemNote v-if="problem" :text="problem" @retry="reload" />
  <LoadingNote v-else-if="!days" />
  <ChartFrame
    v-else
    title="Visitors a day"
    :note="`Visitors who are in reports; ${timeZone}`"
    :summary="`Visitors who got ${rollout.variant.name} on each of ${days.length} days.`"
    :draw="(tokens) => linesChart({ lines, unit: 'visitors', format: formatCount, unfinished }, tokens)"
    :columns="columns"
    :rows="days"
    :row-key="({ day }) => day"
  />
</template>
