<script setup lang="ts">
import type { SheetMetric } from '~~/core/sheet/content'

const props = defineProps<{ metric: SheetMetric; isOpen: boolean; disabled: boolean }>()
const emit = defineEmits<{ toggle: [] }>()
const { make } = useSheetChanges()
const { draft, commit, state } = useSheetThing<SheetMetric>(
  () => ({ part: 'metrics', id: props.metric.id }),
  [['name'], ['direction'], ['role', 'limit'], ['kind', 'source', 'denominator']],
)
const remove = () =>
  make({ do: 'remove', list: { part: 'metrics' }, item: props.metric }, `Removed ${props.metric.name}.`)
</script>

<template>
  <MetricFrame
    :metric="metric"
    :is-open="isOpen"
    :is-new="false"
    :may-remove="!disabled"
    @toggle="emit('toggle')"
    @remove="remove"
  >
    <MetricFields v-model="draft" :disabled="disabled" :state="state" @commit="commit" />
  </MetricFrame>
</template>
