<script setup lang="ts">
import type { SheetMetric } from '~~/core/sheet/content'
import { MOST_METRICS } from '~~/shared/experiment'
import { blankMetric } from '~/sheets/freshThings'

const { content } = useSheetChanges()
const { kept } = useSheetStore().work!
const rows = computed(() => [
  ...content.value.metrics.map((metric) => ({ metric, fresh: null })),
  ...kept.fresh
    .filter(({ list }) => list.part === 'metrics')
    .map((fresh) => ({ metric: fresh.item as SheetMetric, fresh })),
])
const isWriting = computed(() => rows.value.some(({ fresh }) => fresh))
/** One metric is edited at a time. */
const opened = ref<string | null>(null)

function add(): void {
  const item = blankMetric(rows.value.some(({ metric }) => metric.role === 'primary') ? 'secondary' : 'primary')
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
  <SheetSection
    name="measured"
    title="Measured by"
    note="Each metric is one value a visitor, from the first exposure on."
  >
    <template #action
      ><BaseButton v-if="rows.length < MOST_METRICS && !isWriting" kind="quiet" @click="add"
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
  </SheetSection>
</template>
