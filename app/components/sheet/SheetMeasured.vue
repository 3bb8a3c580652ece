<script setup lang="ts">
import { MOST_METRICS } from '~~/shared/experiment'
import { blankMetric } from '~/sheets/freshThings'

const props = defineProps<{ disabled: boolean; mayAdd: boolean }>()
const { content } = useSheetChanges()
const { kept } = useSheetStore().work!
const metrics = computed(() => content.value.metrics)
const freshMetrics = computed(() => kept.fresh.filter(({ list }) => list.part === 'metrics'))
/** One metric is edited at a time. */
const opened = ref<string | null>(null)

function add(): void {
  const item = blankMetric(metrics.value.some(({ role }) => role === 'primary') ? 'secondary' : 'primary')
  kept.fresh = [...kept.fresh, { list: { part: 'metrics' }, item }]
  opened.value = item.id
}
onMounted(() => {
  const isEmpty = metrics.value.length + freshMetrics.value.length === 0
  if (isEmpty && !props.disabled) add()
  else opened.value = freshMetrics.value[0]?.item.id ?? metrics.value[0]?.id ?? null
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
      ><BaseButton
        v-if="!disabled && metrics.length < MOST_METRICS && freshMetrics.length === 0"
        kind="quiet"
        @click="add"
        >Add a metric</BaseButton
      ></template
    >
    <ol class="flex flex-col">
      <MetricRow
        v-for="metric in metrics"
        :key="metric.id"
        :metric="metric"
        :is-open="opened === metric.id"
        :disabled="disabled"
        @toggle="toggle(metric.id)"
      />
      <template v-if="!disabled">
        <FreshMetric
          v-for="fresh in freshMetrics"
          :key="fresh.item.id"
          :fresh="fresh"
          :is-open="opened === fresh.item.id"
          @toggle="toggle(fresh.item.id)"
        />
      </template>
    </ol>
    <AddedMetric v-if="mayAdd" class="mt-3" />
  </SheetSection>
</template>
