<script setup lang="ts">
import type { TableColumn } from '~/data/tableColumn'
import type { PlannedMetric } from '~~/core/statistics/power'
import { DECISION_RULES, type DecisionPlan } from '~~/core/verdict/verdict'
import { ruleLabel } from '~/sheets/ruleWords'
import { scenariosOf, type RehearsalPlan, type RehearsalScenario, type RehearsedRule } from '~~/core/verdict/rehearsal'

const props = defineProps<{
  plan: DecisionPlan
  metric: PlannedMetric
  direction: 'up' | 'down'
  weights: readonly number[]
  /** As the traffic of late says; null where it says nothing. */
  visitorsAWeek: number | null
  /** Of a split that moves: it is rehearsed beside one that stays as set. */
  moving?: RehearsalPlan['moving']
}>()
const { progress, rehearsed: found, problem, start, stop } = useRehearsal()
/** A split that moves draws new weights on each day of a run. */
const runs = computed(() => (props.moving ? 500 : 2000))
const DAILY = 1000
const daily = ref(DAILY)
watch(
  () => props.visitorsAWeek,
  (visitors) => {
    if (visitors !== null && daily.value === DAILY) daily.value = Math.max(1, Math.round(visitors / 7))
  },
  { immediate: true },
)
/** The plan that was rehearsed last, to be read beside what came out. */
const rehearsed = shallowRef<{ plan: DecisionPlan; daily: number } | null>(null)
const ofRules = computed(() => new Set(found.value?.map(({ rule }) => rule)))
const isCompared = computed(() => ofRules.value.size > 1)
const hasSplits = computed(() => (found.value ?? []).some(({ split }) => split === 'moving'))
const SPLIT_LABELS = { set: 'as set', moving: 'moving' }
const isStale = ref(false)
watch([() => props.plan, () => props.metric, () => props.moving, daily], () => (isStale.value = true), { deep: true })

/** The plan as it is, or under each rule. */
function run(rules: RehearsedRule['rule'][]): void {
  isStale.value = false
  const plan = JSON.parse(JSON.stringify(props.plan)) as DecisionPlan
  rehearsed.value = { plan, daily: Number(daily.value) }
  start({
    seed: 1,
    rules,
    plan: JSON.parse(
      JSON.stringify({
        decision: plan,
        weights: props.weights,
        primary: { metric: props.metric, direction: props.direction },
        guardrails: [],
        newVisitors: [Number(daily.value)],
        runs: runs.value,
        moving: props.moving,
        lifts: scenariosOf(plan.smallestLift),
      }),
    ),
  })
}
interface Row extends RehearsalScenario {
  rule: RehearsedRule['rule']
  split: RehearsedRule['split']
}
/** Rules stand beside each other for one lift. */
const rows = computed<Row[]>(() =>
  (found.value ?? [])
    .flatMap(({ rule, split, scenarios }) => scenarios.map((scenario) => ({ ...scenario, rule, split })))
    .sort((a, b) => a.lift - b.lift),
)
const canRun = computed(() => Number(daily.value) > 0 && props.weights.length >= 2)
const shipped = ({ shares }: RehearsalScenario) => shares.ship + shares['ship-low-risk']
const lifted = ({ lift }: RehearsalScenario) => formatLift(props.direction === 'down' ? -lift : lift)
const share = (id: string, header: string, value: (each: RehearsalScenario) => number) => ({
  id,
  header,
  value,
  show: (each: RehearsalScenario) => formatShare(value(each), 1),
  isNumeric: true,
})
const day = (value: number | null) => (value === null ? 'never' : formatCount(value))
const columns = computed<TableColumn<Row>[]>(() => [
  { id: 'lift', header: 'True lift', value: ({ lift }) => lift, show: lifted, isNumeric: true, isHeading: true },
  ...(isCompared.value ? [{ id: 'rule', header: 'Rule', value: ({ rule }: Row) => ruleLabel(rule) }] : []),
  ...(hasSplits.value ? [{ id: 'split', header: 'Split', value: ({ split }: Row) => SPLIT_LABELS[split] }] : []),
  share('ships', 'Ships', shipped),
  share('wrong', 'Ships wrongly', ({ shippedWrong }) => shippedWrong),
  share('none', 'No difference', ({ shares }) => shares['no-difference']),
  share('open', 'Left open', ({ shares }) => shares.open),
  {
    id: 'half',
    header: 'Half have a verdict by day',
    value: ({ days }) => days.half,
    show: ({ days }) => day(days.half),
    isNumeric: true,
  },
  {
    id: 'nine-tenths',
    header: 'Nine tenths by day',
    value: ({ days }) => days.nineTenths,
    show: ({ days }) => day(days.nineTenths),
    isNumeric: true,
  },
  {
    id: 'visitors',
    header: 'Visitors on average',
    value: ({ visitors }) => Math.round(visitors),
    show: ({ visitors }) => formatCount(Math.round(visitors)),
    isNumeric: true,
  },
  ...(hasSplits.value
    ? [
        {
          id: 'lost',
          header: 'Lost of 1,000 visitors',
          value: ({ lost }: Row) => lost,
          show: ({ lost }: Row) => lost.toFixed(lost < 10 ? 1 : 0),
          isNumeric: true,
        },
      ]
    : []),
])
/** What the numbers come to for the lift that the plan is made for, and without any. */
const reading = computed(() => {
  const { plan } = rehearsed.value ?? {}
  const { scenarios } = found.value?.find(({ rule }) => rule === plan?.rule) ?? {}
  const worthwhile = scenarios?.find(({ lift }) => lift === plan?.smallestLift)
  const none = scenarios?.find(({ lift }) => lift === 0)
  if (!worthwhile || !none) return null
  const runs = (value: number) => `${Math.round(value * 100)} of 100 runs`
  const by = worthwhile.days.half === null ? '' : `; half of all runs have a verdict by day ${worthwhile.days.half}`
  return `With a true lift of ${lifted(worthwhile)} it ships in ${runs(shipped(worthwhile))}${by}. Without any lift it ships in ${runs(none.shippedWrong)}.`
})
</script>

<template>
  <div class="mt-5" data-testid="rehearsal">
    <h3 class="mb-1">Rehearsal</h3>
    <p class="max-w-[72ch] text-sm text-ink-soft">
      {{ formatCount(runs) }} simulated runs of this plan for each of four true lifts: how often it would be right, and
      how long it would take.
    </p>
    <div class="mt-2 flex flex-wrap items-end gap-3">
      <div class="w-44"><TextField v-model="daily" label="New visitors a day" numeric /></div>
      <template v-if="progress === null">
        <BaseButton :disabled="!canRun" @click="run([plan.rule])">Rehearse this plan</BaseButton>
        <BaseButton :disabled="!canRun" @click="run([...DECISION_RULES])">Compare rules</BaseButton>
      </template>
      <JobProgress v-else title="Rehearsing" :progress="progress" @cancel="stop" />
    </div>
    <p v-if="problem" class="mt-2 text-sm text-rust" role="alert">{{ problem }}</p>
    <div v-if="found && rehearsed" class="mt-3" :class="isStale ? 'text-ink-soft' : ''">
      <p class="max-w-[72ch] text-sm text-ink-soft">
        Rehearsed: from {{ formatLift(rehearsed.plan.smallestLift) }} on,
        {{ isCompared ? 'under each rule' : `${ruleLabel(rehearsed.plan.rule)} rule` }},
        {{ formatCount(rehearsed.plan.plannedVisitors) }} visitors, {{ rehearsed.plan.leastWeeks }} to
        {{ rehearsed.plan.longestWeeks }} weeks, {{ formatCount(rehearsed.daily) }} new visitors a day.
      </p>
      <p v-if="reading" class="max-w-[72ch]">{{ reading }}</p>
      <DataTable
        label="Rehearsal"
        :columns="columns"
        :rows="rows"
        :row-key="({ lift, rule, split }) => `${lift} ${rule} ${split}`"
      />
      <p v-if="isStale" class="mt-1 text-sm text-rust">The plan has changed since. Rehearse it again.</p>
    </div>
  </div>
</template>
