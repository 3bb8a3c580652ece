<script setup lang="ts">
import type { ExperimentResults } from '~~/shared/experiments/resultsReplies'
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import { SELF_PAUSE_WORDS } from '~/sheets/ruleWords'

/** The decision plan as sentences, with how far the run is in it. */
const props = defineProps<{ sheet: ExperimentSheet; results: ExperimentResults | null }>()
const plan = computed(() => props.sheet.plan)
const primary = computed(() => props.sheet.metrics[0] ?? null)
const level = computed(() => formatShare(1 - plan.value.alpha, 0))
const rule = computed(() => {
  const lift = formatLift(plan.value.smallestLift)
  const ships = `ships a variant whose ${level.value} interval lies on the better side of zero, and stops without a winner once no variant can bring ${lift} any more`
  if (plan.value.rule === 'fixed') return `One look, at the planned visitors or the longest run: it ${ships}.`
  if (plan.value.rule === 'spending')
    return `One look a day, from the least run to the planned visitors or the longest run: it ${ships}.`
  const sequential = `May be looked at any day: it ${ships}.`
  return plan.value.rule === 'low-risk'
    ? `${sequential} It also ships where the expected loss is below ${formatPercent(plan.value.lossLimit)} of the control.`
    : sequential
})
const expected = computed(() => {
  const { baseline, mean, deviation } = plan.value
  if (!primary.value) return null
  if (primary.value.kind === 'conversion') return baseline === null ? null : formatShare(baseline)
  if (mean === null || mean === undefined) return null
  const value = formatMetric(primary.value, mean, props.sheet.currency)
  return deviation === null || deviation === undefined
    ? value
    : `${value}, with a standard deviation of ${formatNumber(deviation)}`
})
const pausesFor = computed(() => SELF_PAUSE_WORDS[plan.value.pausesFor ?? 'target'])
const came = computed(() => {
  const planned = plan.value.plannedVisitors
  if (!props.results || !planned) return null
  return `${formatCount(props.results.visitors)} of ${formatCount(planned)} planned visitors came, ${formatShare(props.results.visitors / planned, 0)}.`
})
</script>

<template>
  <SheetSection name="decided" title="Decided how" note="Fixed before the start.">
    <div class="flex flex-col gap-3">
      <p class="max-w-[72ch]">
        A lift of {{ formatLift(plan.smallestLift) }} or more in {{ primary?.name ?? 'the primary metric' }} is worth
        having.<template v-if="expected"> The control was expected at {{ expected }}.</template>
      </p>
      <p class="max-w-[72ch]">{{ rule }}</p>
      <p v-if="plan.guardrailRule === 'safe'" class="max-w-[72ch]">
        A variant ships only once every guardrail is shown to be within its limit.
      </p>
      <p v-if="plan.leastChance && plan.rule !== 'low-risk'" class="max-w-[72ch]">
        Advises to stop once the chance to still end with Ship is below {{ formatPercent(plan.leastChance) }}.
      </p>
      <p v-if="plan.pausesFor && plan.pausesFor !== 'target'" class="max-w-[72ch]">
        Pauses itself for {{ pausesFor }}.
      </p>
      <p class="max-w-[72ch]">
        Runs {{ plan.leastWeeks }} to {{ plan.longestWeeks }} weeks<template v-if="plan.plannedVisitors"
          >, planned for {{ formatCount(plan.plannedVisitors) }} visitors</template
        >. <template v-if="came">{{ came }}</template>
      </p>
      <RunTimeline
        v-if="results && sheet.startedAt"
        :least-weeks="plan.leastWeeks"
        :longest-weeks="plan.longestWeeks"
        :days="sheet.endedAt ? results.daysRun : dayOfRun(sheet, sheet.timeZone)"
        :is-over="sheet.endedAt !== null"
      />
    </div>
  </SheetSection>
</template>
