<script setup lang="ts">
import type { HoldoutReading } from '~~/shared/traffic/holdoutReading'
import { siteDays } from '~~/core/time/siteDay'
import { mostMeasuredFirst } from '~/data/effectRow'
import type { TableColumn } from '~/data/tableColumn'

/** One metric month by month, with what was begun in each. */
const props = defineProps<{ siteId: number; reading: HoldoutReading; timeZone: string }>()
/** Kept in the address, so that it can be shared. */
const ordered = computed(() => mostMeasuredFirst(props.reading.metrics))
const chosen = useQueryChoice<string>('metric', () => ordered.value.map(({ metric }) => metric.id))
const choices = computed(() => ordered.value.map(({ metric: { id, name } }) => ({ value: id, label: name })))
const read = computed(() => ordered.value.find(({ metric }) => metric.id === chosen.value) ?? ordered.value[0] ?? null)
const months = computed(() => {
  const dayOf = siteDays(props.timeZone)
  return props.reading.months.map(({ day, visitors }, index) => {
    const next = props.reading.months[index + 1]?.day
    const begun = props.reading.things.filter(({ begunAt }) => {
      const begun = dayOf(Date.parse(begunAt))
      return begun >= day && (next === undefined || begun < next)
    })
    return { day, visitors, begun, lift: read.value!.months[index]! }
  })
})
type Month = (typeof months.value)[number]
const domain = computed(() =>
  symmetricDomain(months.value.flatMap(({ lift }) => lift.interval ?? []).map(Math.abs), 0.02),
)
const columns: TableColumn<Month>[] = [
  { id: 'month', header: 'Month from', value: ({ day }) => day, isHeading: true },
  {
    id: 'held-out',
    header: 'Held out',
    isNumeric: true,
    value: ({ visitors }) => visitors[0]!,
    show: ({ visitors }) => formatCount(visitors[0]!),
  },
  {
    id: 'others',
    header: 'Others',
    isNumeric: true,
    value: ({ visitors }) => visitors[1]!,
    show: ({ visitors }) => formatCount(visitors[1]!),
  },
  {
    id: 'lift',
    header: 'Lift',
    isNumeric: true,
    value: ({ lift }) => lift.estimate,
    show: ({ lift }) => formatLift(lift.estimate),
  },
  { id: 'track', header: 'Track', value: () => null, isDrawing: true },
  {
    id: 'interval',
    header: 'Interval',
    value: ({ lift }) => lift.interval && lift.interval.join(' to '),
    show: ({ lift }) => formatInterval(lift.interval),
  },
  { id: 'begun', header: 'Begun in it', value: ({ begun }) => begun.map(({ name }) => name).join('; ') },
]
</script>

<template>
  <section v-if="read" aria-labelledby="months-title">
    <div class="mb-2 flex flex-wrap items-end gap-4">
      <div class="mr-auto">
        <h2 id="months-title">Month by month</h2>
        <p class="text-sm text-ink-soft">What visitors of a month did in it; intervals are for one look.</p>
      </div>
      <ChoiceField v-model="chosen" class="w-56" label="Metric" :choices="choices" />
    </div>
    <DataTable
      :label="`${read.metric.name} month by month`"
      :columns="columns"
      :rows="months"
      :row-key="({ day }) => day"
    >
      <template #cell-month="{ row }"
        ><span class="whitespace-nowrap">{{ row.day }}</span></template
      >
      <template #cell-track="{ row }"
        ><span class="block w-20"
          ><IntervalTrack
            small
            :interval="row.lift.interval"
            :estimate="row.lift.estimate"
            :smallest-lift="0"
            :domain="domain"
            :direction="read.metric.direction" /></span
      ></template>
      <template #cell-interval="{ row }"
        ><span class="whitespace-nowrap">{{ formatInterval(row.lift.interval) }}</span></template
      >
      <template #cell-begun="{ row }">
        <ul>
          <li v-for="{ experiment, name, visitors, isDistrusted } in row.begun" :key="experiment">
            <NuxtLink :to="`/sites/${siteId}/experiments/${experiment}`" class="hover:underline">{{ name }}</NuxtLink>
            <span class="ml-1 text-sm whitespace-nowrap text-ink-soft">{{ countOf(visitors, 'visitor') }}</span>
            <span v-if="isDistrusted" class="ml-1 text-sm text-rust">not in the sum: its split is off</span>
          </li>
          <li v-if="row.begun.length === 0" class="text-ink-soft">nothing</li>
        </ul>
      </template>
    </DataTable>
  </section>
</template>
