<script setup lang="ts">
import type { PlannedMetric } from '~~/core/statistics/power'
import type { DecisionPlan } from '~~/core/verdict/verdict'
import { scenariosOf, type RehearsalScenario } from '~~/core/verdict/rehearsal'

const props = defineProps<{
  plan: DecisionPlan
  metric: PlannedMetric
  direction: 'up' | 'down'
  weights: readonly number[]
  /** As the traffic of late says; null where it says nothing. */
  visitorsAWeek: number | null
}>()
const { progress, scenarios, problem, start, stop } = useRehearsal()
const RUNS = 2000
const DAILY = 1000
const daily = ref(DAILY)
watch(
  () => props.visitorsAWeek,
  (visitors) => {
    if (visitors !== null && daily.value === DAILY) daily.value = Math.max(1, Math.round(visitors / 7))
  },
  { immediate: true },
)
const isStale = ref(false)
watch([() => props.plan, () => props.metric, daily], () => (isStale.value = true), { deep: true })

function run(): void {
  isStale.value = false
  start({
    seed: 1,
    plan: JSON.parse(
      JSON.stringify({
        decision: props.plan,
        weights: props.weights,
        primary: { metric: props.metric, direction: props.direction },
        guardrails: [],
        newVisitors: [Number(daily.value)],
        runs: RUNS,
        lifts: scenariosOf(props.plan.smallestLift),
      }),
    ),
  })
}
const shipped = ({ shares }: RehearsalScenario) => shares.ship + shares['ship-low-risk']
</script>

<template>
  <div class="mt-5" data-testid="rehearsal">
    <h3 class="mb-1">Rehearsal</h3>
    <p class="max-w-[72ch] text-sm text-ink-soft">
      {{ formatCount(RUNS) }} simulated runs of this plan for each of four true lifts: how often it would be right, and
      how long it would take.
    </p>
    <div class="mt-2 flex flex-wrap items-end gap-3">
      <div class="w-44"><TextField v-model="daily" label="New visitors a day" numeric /></div>
      <BaseButton v-if="progress === null" :disabled="!(Number(daily) > 0) || weights.length < 2" @click="run"
        >Rehearse this plan</BaseButton
      >
      <template v-else>
        <progress
          :value="progress"
          max="1"
          class="mb-2 h-2 w-40 accent-accent"
          aria-label="Progress of the rehearsal"
        />
        <BaseButton @click="stop">Cancel</BaseButton>
      </template>
    </div>
    <p v-if="problem" class="mt-2 text-sm text-rust" role="alert">{{ problem }}</p>
    <div v-if="scenarios" class="relative mt-3 overflow-x-auto" :class="isStale ? 'opacity-60' : ''">
      <table class="border-collapse" aria-label="Rehearsal">
        <thead>
          <tr
            class="border-b border-line-strong text-sm text-ink-soft [&>th]:px-3 [&>th]:pb-1 [&>th]:text-right [&>th]:font-medium"
          >
            <th>True lift</th>
            <th>Ships</th>
            <th>Ships wrongly</th>
            <th>No worthwhile difference</th>
            <th>Left open</th>
            <th>Half have a verdict by day</th>
            <th>Nine tenths by day</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="scenario in scenarios"
            :key="scenario.lift"
            class="border-b border-line [&>td]:px-3 [&>td]:py-1 [&>td]:text-right [&>td]:whitespace-nowrap"
          >
            <td>{{ formatLift(direction === 'down' ? -scenario.lift : scenario.lift) }}</td>
            <td>{{ formatShare(shipped(scenario), 1) }}</td>
            <td>{{ formatShare(scenario.shippedWrong, 1) }}</td>
            <td>{{ formatShare(scenario.shares['no-difference'], 1) }}</td>
            <td>{{ formatShare(scenario.shares.open, 1) }}</td>
            <td>{{ formatCount(scenario.days.median) }}</td>
            <td>{{ formatCount(scenario.days.ninetieth) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="isStale" class="mt-1 text-sm text-ink-soft">The plan has changed since. Rehearse it again.</p>
    </div>
  </div>
</template>
