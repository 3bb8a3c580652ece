<script setup lang="ts">
import { describeMetric } from '~~/core/measurement/metric'
import { isCompleteMetric } from '~/sheets/freshThings'
import type { SheetMetric } from '~~/core/sheet/content'

/** One metric: its name and what it counts, and its fields once it is opened. */
const props = defineProps<{ metric: SheetMetric; isOpen: boolean; isNew: boolean; mayRemove: boolean }>()
const emit = defineEmits<{ toggle: []; remove: [] }>()
const words = computed(() => {
  const counts = isCompleteMetric(props.metric) ? `Counts ${describeMetric(props.metric)}` : ''
  return props.isNew ? 'Not saved yet: fill in every field.' : counts
})
</script>

<template>
  <li class="border-b border-line py-3 first:pt-0 last:border-b-0">
    <div class="flex items-baseline gap-3">
      <button type="button" class="min-w-0 flex-1 text-left" :aria-expanded="isOpen" @click="emit('toggle')">
        <span aria-hidden="true" class="mr-1 text-ink-soft">{{ isOpen ? '▾' : '▸' }}</span>
        <span class="font-medium">{{ metric.name || 'New metric' }}</span>
        <span class="text-sm text-ink-soft">, {{ metric.role }}</span>
        <span v-if="!isOpen" class="block pl-4 text-sm text-ink-soft">{{ words }}</span>
      </button>
      <BaseButton
        v-if="mayRemove"
        kind="quiet"
        :aria-label="`Remove ${metric.name || 'the new metric'}`"
        @click="emit('remove')"
        >Remove</BaseButton
      >
    </div>
    <div v-if="isOpen" class="mt-3">
      <slot />
      <p class="mt-3 text-sm text-ink-soft">{{ words }}</p>
    </div>
  </li>
</template>
