<script setup lang="ts">
import type { ExperimentResults, MetricResults } from '~~/shared/experiments/resultsReplies'
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import { describeMeasured } from '~~/core/measurement/metric'
import type { ReadingMethod } from '~~/core/analysis/readings'

/** Everything about one metric: what it counts, its arms, and each variant against the control. */
defineProps<{
  sheet: ExperimentSheet
  results: MetricResults
  /** Everybody who takes part in the experiment. */
  visitors: number
  method: ReadingMethod
  domain: [number, number]
  /** What the lift is multiplied by for its money in a month. */
  money?: ExperimentResults['money']
  /** When the plan’s next look is due. */
  nextLookAt?: string | null
  /** Whether the plan has concluded. */
  isConcluded?: boolean
}>()
</script>

<template>
  <div class="flex flex-col gap-5">
    <p class="max-w-[72ch] text-ink-soft">
      Counts {{ describeMeasured(results.metric) }}.
      {{ results.metric.direction === 'down' ? 'Less is better.' : '' }}
    </p>
    <OneLookNote v-if="results.factorial" :is-concluded="isConcluded" />
    <FactorEffects
      v-if="results.factorial"
      :metric="results.metric"
      :reading="results.factorial"
      :sheet="sheet"
      :domain="domain"
    />
    <WindowNote :results="results" :visitors="visitors" />
    <ArmTable :sheet="sheet" :results="results" />
    <ComparisonReading
      v-for="(_, index) in results.comparisons"
      :key="index"
      :sheet="sheet"
      :results="results"
      :position="index + 1"
      :method="method"
      :domain="domain"
      :money="money"
      :next-look-at="nextLookAt ?? null"
    />
  </div>
</template>
