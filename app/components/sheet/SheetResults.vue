<script setup lang="ts">
import type { ExperimentResults, ExperimentSheet } from '~~/shared/experiment'

const props = defineProps<{ sheet: ExperimentSheet; results: ExperimentResults | null; isStale: boolean }>()
const store = useSheetStore()
/** One scale for all variants: wide enough for the widest interval, never narrower than twice the smallest worthwhile lift. */
const domain = computed<[number, number]>(() => {
  const ends = (props.results?.comparisons ?? []).flatMap(({ sequential, lift }) => [...(sequential.lift.interval ?? []), ...(lift.interval ?? [])]).map(Math.abs)
  const widest = Math.max(2 * props.sheet.plan.smallestLift, Math.min(1.5, Math.max(0, ...ends) * 1.15))
  return [-widest, widest]
})
</script>

<template>
  <SheetSection name="results" title="What happened" :note="results?.foldedAt ? `Newest events counted ${formatTime(results.foldedAt, sheet.timeZone)}, ${sheet.timeZone}` : undefined">
    <template #action><a :href="`${store.path}/results.csv`" class="text-ink-soft hover:text-ink hover:underline">Export CSV</a></template>
    <p v-if="isStale" class="mb-3 text-sm text-rust" role="alert">Vetch cannot be reached at the moment; these are the last known numbers.</p>
    <p v-if="!results" class="text-ink-soft">Loading …</p>
    <div v-else class="flex flex-col gap-6">
      <VerdictNote v-if="results.verdict" :verdict="results.verdict" />
      <ArmTable :sheet="sheet" :results="results" />
      <template v-if="results.comparisons">
        <ComparisonReading v-for="(comparison, index) in results.comparisons" :key="index" :comparison="comparison" :position="index + 1" :name="sheet.variants[index + 1]?.name ?? ''" :sheet="sheet" :control-mean="results.arms[0]?.mean ?? 0" :domain="domain" />
      </template>
      <p v-else class="text-ink-soft">A comparison needs at least one visitor in the control and in every variant.</p>
      <AllocationNote v-if="results.allocation && results.visitors > 0" :allocation="results.allocation" :arms="results.arms" :crossed="results.crossed" />
    </div>
  </SheetSection>
</template>
