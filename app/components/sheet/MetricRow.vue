<script setup lang="ts">
import type { SheetMetric } from '~~/core/sheet/content'
import type { FreshThing } from '~/sheets/sheetWork'

/** A metric of the sheet, or one that is being written and joins it: the fields stay the same while it does. */
const props = defineProps<{ metric: SheetMetric; fresh: FreshThing | null; isOpen: boolean }>()
const emit = defineEmits<{ toggle: [] }>()
const { make } = useSheetChanges()
const saved = useSheetThing<SheetMetric>(
  () => ({ part: 'metrics', id: props.metric.id }),
  [['name'], ['direction'], ['role', 'limit'], ['kind', 'source', 'denominator', 'cap', 'windowDays']],
)
const fresh = useFreshThing<SheetMetric>(() => props.fresh)
const draft = computed({
  get: () => (props.fresh ? fresh.draft.value : saved.draft.value),
  set: (value) => void (saved.draft.value = value),
})
const commit = () => (props.fresh ? fresh.commit() : saved.commit())
const state = (field: keyof SheetMetric) => (props.fresh ? fresh.state(field) : saved.state(field))
function remove(): void {
  if (props.fresh) fresh.drop()
  else make({ do: 'remove', list: { part: 'metrics' }, item: props.metric }, `Removed ${props.metric.name}.`)
}
</script>

<template>
  <MetricFrame
    :metric="metric"
    :is-open="isOpen"
    :is-new="props.fresh !== null"
    :may-remove="!(props.fresh && metric.role === 'primary')"
    @toggle="emit('toggle')"
    @remove="remove"
  >
    <MetricFields v-model="draft" :state="state" @commit="commit" />
  </MetricFrame>
</template>
