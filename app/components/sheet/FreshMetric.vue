<script setup lang="ts">
import type { SheetMetric } from '~~/core/sheet/content'
import type { FreshThing } from '~/sheets/sheetWork'

const props = defineProps<{ fresh: FreshThing; isOpen: boolean }>()
const emit = defineEmits<{ toggle: [] }>()
const { draft, commit, drop, state } = useFreshThing<SheetMetric>(() => props.fresh)
</script>

<template>
  <MetricFrame
    :metric="draft"
    :is-open="isOpen"
    is-new
    :may-remove="draft.role !== 'primary'"
    @toggle="emit('toggle')"
    @remove="drop"
  >
    <MetricFields :model-value="draft" :disabled="false" :state="state" @commit="commit" />
  </MetricFrame>
</template>
