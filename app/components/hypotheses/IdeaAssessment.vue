<script setup lang="ts">
import type { Assessment, IdeaMetric } from '~~/shared/hypotheses/replies'
import {
  chanceInWords,
  missingInWords,
  rangeInWords,
  roundMoney,
  roundUnits,
  unitsOf,
  weeksInWords,
} from '~/data/ideaWords'
import type { LiftRange } from '~~/core/hypotheses/pert'
import type { Past } from '~~/core/hypotheses/pastLifts'
import { SEEN_WEEKS } from '~~/core/hypotheses/learningCost'
import type { RankingTerms } from '~~/shared/hypotheses/hypothesis'

/** What an idea is worth, and what it costs to learn, with where the numbers come from. */
const props = defineProps<{
  siteId: number
  assessment: Assessment | null
  idea: {
    metric: string | null
    audience: string | null
    likely: number | null
    effortDays: number | null
    typed: LiftRange | null
  }
  metric: IdeaMetric | undefined
  terms: RankingTerms
  past: Past
  currency: string
}>()
const money = (amount: number) => roundMoney(amount, props.currency)
const worth = computed(() => props.assessment?.worth ?? null)
const typedMoney = computed(() => props.assessment?.typedWorth?.money ?? null)
const missing = computed(() => missingInWords({ ...props.idea, assessment: props.assessment }))
/** The report of pages that says the same. */
const report = computed(() => {
  const { from, to } = props.assessment!.figures
  const { audience, metric } = props.idea
  return {
    path: `/sites/${props.siteId}/evidence/pages`,
    query: { from, to, ...(audience ? { segment: audience } : {}), ...(metric ? { metric } : {}) },
  }
})
const value = computed(() => {
  const { figures } = props.assessment!
  if (figures.unitValue === null || props.metric?.isMoney) return null
  return `each worth ${formatAmount(figures.unitValue, props.currency)}`
})
</script>

<template>
  <div class="flex flex-col gap-4" data-testid="assessment">
    <p v-if="missing" class="text-ink-soft">{{ missing }}</p>
    <template v-if="assessment && metric">
      <dl class="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
        <dt class="text-ink-soft">Reach</dt>
        <dd>
          <strong>{{ formatCount(Math.round(assessment.figures.visitors / 4)) }}</strong> visitors a week,
          {{ formatCount(assessment.figures.visitors) }} in the last four weeks
        </dd>
        <dt class="text-ink-soft">{{ metric.name }}</dt>
        <dd>
          <strong>{{ formatMetric(metric, assessment.figures.mean, currency) }}</strong>
          {{ metric.kind === 'conversion' ? `of them` : 'a visitor' }}<template v-if="value">, {{ value }}</template>
        </dd>
        <template v-if="worth">
          <dt class="text-ink-soft">Gain a month</dt>
          <dd>
            <strong>{{
              worth.money ? money(worth.money.expected) : `${roundUnits(worth.gain.expected)} ${unitsOf(metric)}`
            }}</strong>
            expected,
            {{ worth.money ? rangeInWords(worth.money, money) : rangeInWords(worth.gain, roundUnits) }} in eight of ten
            cases<template v-if="worth.money && !metric.isMoney"
              >; {{ roundUnits(worth.gain.expected) }} {{ unitsOf(metric) }}</template
            ><template v-if="typedMoney">. By the lifts as typed: {{ money(typedMoney.expected) }}</template>
          </dd>
          <dt class="text-ink-soft">A day of effort</dt>
          <dd>
            <template v-if="idea.effortDays === 0">takes none</template>
            <template v-else-if="worth.moneyADay !== null"
              ><strong>{{ money(worth.moneyADay) }}</strong> a month</template
            >
            <template v-else-if="worth.gainADay !== null"
              ><strong>{{ roundUnits(worth.gainADay) }}</strong> {{ unitsOf(metric) }} a month. In money, once somebody
              says what one is worth</template
            >
          </dd>
          <template v-if="worth.chance !== null">
            <dt class="text-ink-soft">Worth the effort</dt>
            <dd>
              with a chance of <strong>{{ chanceInWords(worth.chance) }}</strong>: that it brings back
              {{ money((idea.effortDays ?? 0) * terms.dayCost) }} within {{ formatNumber(terms.paybackMonths) }} months
            </dd>
          </template>
        </template>
        <template v-if="assessment.cost">
          <dt class="text-ink-soft">To learn</dt>
          <dd>
            <template v-if="assessment.cost.weeks !== null"
              ><strong>{{ weeksInWords(assessment.cost.weeks) }}</strong> with
              {{ formatCount(assessment.cost.visitors!) }} visitors</template
            ><template v-else>–</template
            ><template v-if="assessment.cost.visibleLift !== null"
              >; {{ SEEN_WEEKS }} weeks show a lift of {{ formatLift(assessment.cost.visibleLift) }} or more</template
            >
          </dd>
        </template>
      </dl>
      <p v-if="assessment.untestable" class="border-l-4 border-line-strong py-1 pl-3">{{ assessment.untestable }}</p>
      <LiftRanges v-if="idea.typed" :typed="idea.typed" :past="past" :drawn="assessment.drawn" />
      <p class="text-sm">
        <NuxtLink :to="report" class="text-accent underline">How do you know?</NuxtLink>
        <span class="text-ink-soft"
          >&nbsp;The report of pages from {{ assessment.figures.from }} to {{ assessment.figures.to }}.</span
        >
      </p>
    </template>
  </div>
</template>
