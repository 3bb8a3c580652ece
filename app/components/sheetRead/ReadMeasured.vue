<script setup lang="ts">
import { describeMetric } from '~~/core/measurement/metric'
import type { SheetMetric } from '~~/core/sheet/content'

/** Each metric as a sentence: what it counts, its role, and what is better. */
defineProps<{ mayAdd: boolean }>()
const { content } = useSheetChanges()
const store = useSheetStore()
const isServed = computed(() => store.sheet?.purpose === 'serve')
function roleInWords({ role, limit, direction }: SheetMetric): string {
  const better = direction === 'down' ? 'less is better' : 'more is better'
  if (role === 'primary') return `the primary metric${isServed.value ? '' : ', which decides'}; ${better}`
  if (role === 'secondary') return `secondary, explains; ${better}`
  return `guardrail; ${better}, and at most ${formatPercent(limit ?? 0)} worse is accepted`
}
</script>

<template>
  <SheetSection name="measured" title="Measured by" note="One value per visitor, counted from their first exposure.">
    <ol class="flex flex-col">
      <li
        v-for="metric in content.metrics"
        :key="metric.id"
        class="border-b border-line py-2.5 first:pt-0 last:border-b-0"
      >
        <p>
          <span class="font-medium">{{ metric.name }}</span><span class="text-sm text-ink-soft"
            >, {{ roleInWords(metric) }}</span
          >
        </p>
        <p class="max-w-[72ch] text-sm text-ink-soft">Counts {{ describeMetric(metric) }}.</p>
      </li>
    </ol>
    <p v-if="content.metrics.length === 0" class="text-ink-soft">Nothing is measured yet.</p>
    <AddedMetric v-if="mayAdd" class="mt-3" />
  </SheetSection>
</template>
