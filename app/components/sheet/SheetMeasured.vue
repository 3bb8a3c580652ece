<script setup lang="ts">
import type { SheetMetric } from '~~/core/sheet/content'
import { MOST_METRICS } from '~~/shared/experiments/sheetParts'
import { drawThingId } from '~~/shared/thingId'
import { blankMetric, type ChosenMetric } from '~/sheets/freshThings'

const store = useSheetStore()
const { content, make } = useSheetChanges()
const { kept } = store.work!
const rows = computed(() => [
  ...content.value.metrics.map((metric) => ({ metric, fresh: null })),
  ...kept.fresh
    .filter(({ list }) => list.part === 'metrics')
    .map((fresh) => ({ metric: fresh.item as SheetMetric, fresh })),
])
const isWriting = computed(() => rows.value.some(({ fresh }) => fresh))
/** One metric is edited at a time. */
const opened = ref<string | null>(null)

const isChoosing = ref(false)
const nextRole = () => (rows.value.some(({ metric }) => metric.role === 'primary') ? 'secondary' : 'primary')
function choose({ id, name, kind, source, denominator, cap, windowDays, direction }: ChosenMetric) {
  isChoosing.value = false
  const role = content.value.metrics.some((metric) => metric.role === 'primary') ? 'secondary' : 'primary'
  const definition = { name, kind, source, denominator, cap, windowDays, direction }
  const item = { id: id ?? drawThingId(), ...definition, role, limit: null } as const
  // A primary one takes the place of the blank that waits to be written.
  if (role === 'primary') kept.fresh = kept.fresh.filter(({ list }) => list.part !== 'metrics')
  const before = role === 'primary' ? (content.value.metrics[0]?.id ?? null) : null
  make({ do: 'add', list: { part: 'metrics' }, item, before }, `Added ${name}.`)
  opened.value = item.id
}
function write(): void {
  isChoosing.value = false
  if (!isWriting.value) add()
}
function add(): void {
  const item = blankMetric(nextRole())
  kept.fresh = [...kept.fresh, { list: { part: 'metrics' }, item }]
  opened.value = item.id
}
onMounted(() => {
  if (rows.value.length === 0) add()
  else opened.value = (rows.value.find(({ fresh }) => fresh) ?? rows.value[0])?.metric.id ?? null
})
const toggle = (id: string) => (opened.value = opened.value === id ? null : id)
</script>

<template>
  <SheetSection name="measured" title="Measured by" note="One value per visitor, counted from their first exposure.">
    <template #action
      ><BaseButton v-if="rows.length < MOST_METRICS" kind="quiet" @click="isChoosing = true"
        >Add a metric</BaseButton
      ></template
    >
    <ol class="flex flex-col">
      <MetricRow
        v-for="{ metric, fresh } in rows"
        :key="metric.id"
        :metric="metric"
        :fresh="fresh"
        :is-open="opened === metric.id"
        @toggle="toggle(metric.id)"
      />
    </ol>
    <MetricChoice
      v-if="isChoosing"
      :site-id="store.place.site"
      :taken="content.metrics.map(({ id }) => id)"
      @choose="choose"
      @write="write"
      @close="isChoosing = false"
    />
  </SheetSection>
</template>
