<script setup lang="ts">
import { describeSource } from '~~/core/measurement/metric'
import type { ExperimentResults, ExperimentSheet } from '~~/shared/experiment'

const props = defineProps<{ sheet: ExperimentSheet; results: ExperimentResults }>()
const isMean = computed(() => props.results.metric?.kind === 'mean')
const format = (value: number) => (isMean.value ? formatAmount(value, props.sheet.currency) : formatShare(value))
const lift = (index: number) => (index === 0 ? null : (props.results.comparisons?.[index - 1]?.lift.estimate ?? null))
</script>

<template>
  <div>
    <p v-if="results.metric" class="mb-2">
      <span class="font-semibold">{{ results.metric.name }}</span>
      <span class="text-ink-soft"> counts {{ describeSource(results.metric.source) }}, from the first exposure on.</span>
    </p>
    <div class="relative overflow-x-auto">
      <table class="w-full border-collapse" data-testid="arms" :aria-label="results.metric?.name">
        <thead>
          <tr class="border-b border-line-strong text-sm text-ink-soft [&>th]:px-2 [&>th]:pb-1 [&>th]:text-right [&>th]:font-medium">
            <th class="text-left!">Variant</th>
            <th>Visitors</th>
            <th>{{ isMean ? 'Sum' : 'Conversions' }}</th>
            <th>{{ isMean ? 'Mean per visitor' : 'Rate' }}</th>
            <th>Lift</th>
            <th>Best of all</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(arm, index) in results.arms" :key="index" class="border-b border-line [&>td]:px-2 [&>td]:py-1.5 [&>td]:text-right [&>td]:whitespace-nowrap">
            <td class="text-left!"><span class="flex items-center gap-2"><VariantMark :position="index" /> {{ arm.name }}</span></td>
            <td>{{ formatCount(arm.visitors) }}</td>
            <td>{{ isMean ? formatAmount(arm.sum, sheet.currency) : formatCount(arm.sum) }}</td>
            <td>{{ format(arm.mean) }}</td>
            <td>{{ index === 0 ? '' : formatLift(lift(index)) }}</td>
            <td>{{ results.probabilityBest ? formatShare(results.probabilityBest[index] ?? null, 1) : '–' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>
