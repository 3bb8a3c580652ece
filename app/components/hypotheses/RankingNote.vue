<script setup lang="ts">
import { BEFORE, DOUBT, type Past } from '~~/core/hypotheses/pastLifts'
import { roundMoney } from '~/data/ideaWords'
import type { RankingTerms } from '~~/shared/hypotheses/hypothesis'

/** By what the list is ranked, and what is assumed. */
defineProps<{ terms: RankingTerms; past: Past; currency: string }>()
</script>

<template>
  <details class="max-w-[80ch] text-sm">
    <summary class="font-medium">How is this ranked?</summary>
    <div class="mt-2 flex flex-col gap-2">
      <p v-if="terms.rankBy === 'score'">
        By the team’s own score: the weighted mean of {{ terms.criteria.map(({ name }) => name).join(', ') }}.
      </p>
      <p v-else>
        By the expected gain a month for a day of effort. Gain = visitors a month × what the metric is now × lift, in
        money where a unit has a value. What takes no effort comes first; what has no value in money comes after, by
        units.
      </p>
      <p>
        Reach and rate are those of the last four weeks, as the report of pages counts them. “Worth the effort” is the
        chance that the gain pays for the days, at {{ roundMoney(terms.dayCost, currency) }} each, within
        {{ formatNumber(terms.paybackMonths) }} months.
      </p>
      <p>
        Lifts are drawn toward
        {{ past.count === 0 ? 'what is common' : `what ${past.count} variants of ended experiments suggest` }}: a next
        one lies within {{ formatLift(past.mean - 2 * past.deviation) }} to
        {{ formatLift(past.mean + 2 * past.deviation) }} in 95 of 100 cases. Before any test has ended,
        {{ formatLift(-2 * BEFORE.spreadScale) }} to {{ formatLift(2 * BEFORE.spreadScale) }} is taken for common: about
        a third of ideas helps.
      </p>
      <p>
        People give ranges that are too narrow: the variance of weak evidence counts {{ DOUBT.weak }} times, of fair
        evidence {{ DOUBT.fair }} times, of strong evidence {{ DOUBT.strong }} times. These are assumptions.
      </p>
      <p>Weeks to learn: an A/B test on all of these visitors that finds the likely lift in 80 of 100 runs.</p>
    </div>
  </details>
</template>
