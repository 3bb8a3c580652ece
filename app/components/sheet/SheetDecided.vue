<script setup lang="ts">
import { LEAST_SHARE, type SheetPlan } from '~~/core/sheet/content'
import {
  planFindings,
  plannedMetric,
  readPlan,
  reducedMetric,
  ruleCosts,
  type Forecast,
} from '~~/core/sheet/planReading'
import { RULE_CHOICES, SELF_PAUSE_CHOICES } from '~/sheets/ruleWords'

/** A forecast is there for drafts, once it is known. */
const props = defineProps<{ forecast: Forecast | null }>()
const { content, make } = useSheetChanges()
const FIELDS = [
  'smallestLift',
  'baseline',
  'mean',
  'deviation',
  'plannedVisitors',
  'rule',
  'leastWeeks',
  'longestWeeks',
  'lossLimit',
  'guardrailRule',
  'leastChance',
  'pausesFor',
  'adjustedBy',
  'split',
  'leastShare',
  'batchVisitors',
] as const
const {
  draft: written,
  commit,
  state,
} = useSheetThing<SheetPlan>(
  { part: 'plan' },
  FIELDS.map((field) => [field]),
)
/** As it is on the sheet; what is being written is not computed with. */
const plan = computed(() => content.value.plan)
const kind = computed(() => content.value.metrics[0]?.kind ?? 'conversion')

const SPLIT_HINTS = {
  set: 'The weights stay.',
  moving: 'Loses less, and knows the lift less exactly. For offers of a few days.',
}
const GUARDRAIL_RULES = {
  unharmed: 'Ships unless one is shown to be beyond its limit.',
  safe: 'Ships only once each is shown to be within its limit.',
}
const ruleHint = computed(() => RULE_CHOICES.find(({ value }) => value === written.value.rule)?.hint)
const hasGuardrails = computed(() => content.value.metrics.some(({ role }) => role === 'guardrail'))
const guardrailRule = computed({
  get: () => written.value.guardrailRule ?? 'unharmed',
  set: (rule) => (written.value.guardrailRule = rule),
})
const leastChance = computed({
  get: () => written.value.leastChance ?? null,
  // What cannot be read as a number stays as it was typed, for the server to say what is wrong.
  set: (chance) => (written.value.leastChance = chance),
})
const pausesFor = computed({
  get: () => written.value.pausesFor ?? 'target',
  set: (cause) => (written.value.pausesFor = cause),
})
const adjustedBy = computed({
  get: () => written.value.adjustedBy ?? 'nothing',
  set: (adjustment) => (written.value.adjustedBy = adjustment),
})
const adjustmentHint = computed(() => {
  const explained = props.forecast?.expectation?.explained
  if (explained === undefined) return 'Fitted at the start. Less noise, the same effect.'
  return `Lately it would have removed ${formatShare(explained, 0)} of the variance.`
})
const split = computed({
  get: () => written.value.split ?? 'set',
  set: (choice) => (written.value.split = choice),
})
const leastShare = computed({
  get: () => written.value.leastShare ?? LEAST_SHARE,
  set: (share) => (written.value.leastShare = share),
})
const batchVisitors = computed({
  get: () => written.value.batchVisitors ?? null,
  set: (visitors) => (written.value.batchVisitors = visitors),
})
const moving = computed(() =>
  plan.value.split === 'moving'
    ? { leastShare: plan.value.leastShare ?? LEAST_SHARE, batchVisitors: plan.value.batchVisitors ?? null }
    : undefined,
)
const weights = computed(() => content.value.variants.map(({ weight }) => weight))
const reading = computed(() =>
  readPlan({ plan: plan.value, kind: kind.value, weights: weights.value, share: content.value.share }, props.forecast),
)
const windowDays = computed(() => content.value.metrics.find(({ role }) => role === 'primary')?.windowDays ?? null)
const metric = computed(() =>
  plannedMetric(kind.value, reading.value.baseline, reading.value.mean, reading.value.deviation),
)
const removed = computed(() => reading.value.removed ?? 0)
const costs = computed(() => ruleCosts({ plan: plan.value, weights: weights.value }, metric.value, removed.value))
const findings = computed(() => (props.forecast ? planFindings(plan.value, reading.value) : []))
/** What follows from the traffic is shown where nothing was typed. */
const computedAs = {
  baseline: computed(() => (reading.value.baseline === null ? '' : percentWords(reading.value.baseline))),
  mean: computed(() => numberWords(reading.value.mean)),
  deviation: computed(() => numberWords(reading.value.deviation)),
  plannedVisitors: computed(() => numberWords(reading.value.computedVisitors)),
}
const lately = computed(() => {
  const { forecast } = props
  if (!forecast || forecast.visitors === 0) return 'Type what you expect.'
  if (!content.value.metrics.some(({ role }) => role === 'primary')) return 'Known once there is a metric.'
  if (forecast.mean === null) return `Too few visitors in the last ${forecast.days} days to know.`
  return `As of ${formatCount(forecast.sampled)} visitors of the last ${forecast.days} days.`
})
function percentWords(share: number): string {
  return String(Number((share * 100).toPrecision(3)))
}
function numberWords(value: number | null): string {
  return value === null ? '' : String(Number(value.toPrecision(value >= 1000 ? 12 : 4)))
}
function takeComputed(): void {
  const { plannedVisitors } = plan.value
  make({ do: 'set', of: { part: 'plan' }, from: { plannedVisitors }, to: { plannedVisitors: null } })
}
</script>

<template>
  <SheetSection name="decided" title="Decided how" note="Fixed before the start.">
    <div class="grid max-w-2xl gap-x-4 gap-y-4 sm:grid-cols-3">
      <PercentField
        v-model="written.smallestLift"
        label="Smallest worthwhile lift"
        :state="state('smallestLift')"
        @commit="commit"
      />
      <PercentField
        v-if="kind === 'conversion'"
        v-model="written.baseline"
        label="Expected rate of the control"
        :placeholder="computedAs.baseline.value"
        :hint="plan.baseline === null ? lately : undefined"
        :state="state('baseline')"
        @commit="commit"
      />
      <template v-else>
        <TextField
          v-model="written.mean!"
          label="Expected value of the control"
          :placeholder="computedAs.mean.value"
          :hint="plan.mean == null ? lately : undefined"
          numeric
          :state="state('mean')"
          @commit="commit"
        />
        <TextField
          v-model="written.deviation!"
          :placeholder="computedAs.deviation.value"
          label="Standard deviation"
          hint="Of one visitor’s value."
          numeric
          :state="state('deviation')"
          @commit="commit"
        />
      </template>
      <TextField
        v-model="written.plannedVisitors"
        label="Planned visitors"
        :placeholder="computedAs.plannedVisitors.value"
        :hint="plan.plannedVisitors === null ? 'Computed: what the lift needs, and no more than come.' : undefined"
        numeric
        :state="state('plannedVisitors')"
        @commit="commit"
      />
      <ChoiceField
        v-model="written.rule"
        label="Rule"
        :hint="ruleHint"
        :choices="RULE_CHOICES"
        :state="state('rule')"
        @commit="commit"
      />
      <TextField
        v-model="written.leastWeeks"
        label="Least run"
        unit="weeks"
        numeric
        :state="state('leastWeeks')"
        @commit="commit"
      />
      <TextField
        v-model="written.longestWeeks"
        label="Longest run"
        unit="weeks"
        numeric
        :state="state('longestWeeks')"
        @commit="commit"
      />
      <ChoiceField
        v-model="adjustedBy"
        label="Adjusted by"
        :hint="adjustmentHint"
        :choices="[
          { value: 'nothing', label: 'nothing' },
          { value: 'past', label: 'what visitors did before' },
        ]"
        :state="state('adjustedBy')"
        @commit="commit"
      />
      <ChoiceField
        v-model="split"
        label="Split"
        :hint="SPLIT_HINTS[split]"
        :choices="[
          { value: 'set', label: 'as set' },
          { value: 'moving', label: 'more to the better' },
        ]"
        :state="state('split')"
        @commit="commit"
      />
      <template v-if="split === 'moving'">
        <PercentField
          v-model="leastShare"
          label="Least share"
          hint="Each variant and the control keep it."
          :state="state('leastShare')"
          @commit="commit"
        />
        <TextField
          v-model="batchVisitors"
          label="Moves after"
          unit="visitors"
          hint="Empty: each day."
          numeric
          :state="state('batchVisitors')"
          @commit="commit"
        />
      </template>
      <PercentField
        v-if="written.rule !== 'low-risk'"
        v-model="leastChance"
        label="Advise to stop below"
        hint="Chance to still end with Ship. Empty: no advice."
        :state="state('leastChance')"
        @commit="commit"
      />
      <ChoiceField
        v-model="pausesFor"
        label="Pauses itself for"
        hint="A person resumes it."
        :choices="SELF_PAUSE_CHOICES"
        :state="state('pausesFor')"
        @commit="commit"
      />
      <ChoiceField
        v-if="hasGuardrails"
        v-model="guardrailRule"
        label="Guardrails"
        :hint="GUARDRAIL_RULES[guardrailRule]"
        :choices="[
          { value: 'unharmed', label: 'not harmed' },
          { value: 'safe', label: 'shown to be safe' },
        ]"
        :state="state('guardrailRule')"
        @commit="commit"
      />
      <PercentField
        v-if="written.rule === 'low-risk'"
        v-model="written.lossLimit"
        label="Accepted loss"
        hint="Of the control’s mean."
        :state="state('lossLimit')"
        @commit="commit"
      />
    </div>
    <p v-if="reading.plannedVisitors && reading.power !== null" class="mt-3 max-w-[72ch]">
      <template v-if="reading.weeks && reading.visitorsAWeek"
        >{{ formatCount(reading.plannedVisitors) }} visitors come in about
        {{ reading.weeks < 10 ? reading.weeks.toFixed(1) : formatCount(Math.round(reading.weeks)) }} weeks, at
        {{ formatCount(Math.round(reading.visitorsAWeek)) }} a week.
        <template v-if="windowDays"
          >The last of them count {{ windowDays }} {{ windowDays === 1 ? 'day' : 'days' }} later.</template
        >
      </template>
      <template v-if="removed > 0"
        >This counts with {{ formatShare(removed, 0) }} less variance, as of
        {{ formatCount(forecast?.expectation?.visitors ?? 0) }} visitors of the last four weeks.
      </template>
      <template v-if="findings.length === 0"
        >They show a lift of {{ formatPercent(plan.smallestLift) }} in {{ Math.round(reading.power * 100) }} of 100
        runs.</template
      >
    </p>
    <ul v-if="findings.length > 0" class="mt-2 flex max-w-[72ch] flex-col gap-1 text-sm">
      <li v-for="finding in findings" :key="finding.text" class="border-l-2 border-rust pl-3">{{ finding.text }}</li>
    </ul>
    <button
      v-if="plan.plannedVisitors !== null && reading.computedVisitors !== null"
      type="button"
      class="mt-2 text-sm font-medium text-accent underline"
      @click="takeComputed"
    >
      Plan for the computed {{ formatCount(reading.computedVisitors) }} visitors
    </button>
    <RuleCosts
      v-if="costs.length > 0"
      :costs="costs"
      :smallest-lift="plan.smallestLift"
      :visitors-a-week="reading.visitorsAWeek"
    />
    <RehearsalPanel
      v-if="metric && reading.plannedVisitors !== null"
      :plan="{ ...plan, plannedVisitors: reading.plannedVisitors }"
      :metric="reducedMetric(metric, removed)"
      :direction="content.metrics[0]?.direction ?? 'up'"
      :weights="weights"
      :visitors-a-week="reading.visitorsAWeek"
      :moving="moving"
    />
  </SheetSection>
</template>
