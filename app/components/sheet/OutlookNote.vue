<script setup lang="ts">
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import type { ExperimentResults } from '~~/shared/experiments/resultsReplies'

/** The chance that the run still ends with a variant being shipped, drawn from 0 to 100 %. */
const props = defineProps<{ sheet: ExperimentSheet; outlook: NonNullable<ExperimentResults['outlook']> }>()
const least = computed(() => props.sheet.plan.leastChance ?? null)
const lift = computed(() => formatLift(props.sheet.plan.smallestLift))
const percent = (share: number) => {
  if (share > 0 && share < 0.01) return 'below 1\u00a0%'
  return share < 1 && share > 0.99 ? 'above 99\u00a0%' : formatShare(share, 0).replace(' ', '\u00a0')
}
const place = (share: number) => ({ left: `${share * 100}%` })
const positionOf = (name: string) => props.sheet.variants.findIndex((variant) => variant.name === name)
</script>

<template>
  <section aria-labelledby="outlook" data-testid="outlook">
    <h2 id="outlook" class="mb-1 text-base">Chance to still end with Ship</h2>
    <p v-if="outlook.isLittle" class="mb-2 max-w-[72ch] border-l-4 border-rust py-1 pl-3" role="status">
      The plan advises to stop: the chance is below {{ formatPercent(least!) }}. The decision is yours.
    </p>
    <ul class="flex max-w-[72ch] flex-col gap-3">
      <li v-for="each in outlook.variants" :key="each.variant">
        <div class="flex items-center gap-3">
          <VariantMark :position="positionOf(each.variant)" />
          <div class="relative h-4 flex-1 rounded border border-line-strong bg-raised" aria-hidden="true">
            <div
              class="absolute inset-y-0 left-0 rounded-l bg-accent-soft"
              :style="{ width: `${each.predictive * 100}%` }"
            />
            <div class="absolute -inset-y-1 w-0.5 bg-accent" :style="place(each.predictive)" />
            <div
              v-if="least !== null"
              class="absolute -inset-y-1 w-0 border-l border-dashed border-rust"
              :style="place(least)"
            />
          </div>
          <strong class="w-24">{{ percent(each.predictive) }}</strong>
        </div>
        <p class="mt-0.5 text-sm text-ink-soft">
          {{ each.variant }}: {{ percent(each.asSeen) }} if the lift is what it looks like now,
          {{ percent(each.worthwhile) }} if it is {{ lift }}.
        </p>
      </li>
    </ul>
    <details class="mt-1 text-sm">
      <summary class="text-ink-soft">How do you know?</summary>
      <p class="my-1 max-w-[75ch]">
        It is the chance that a look to come shows an interval on the better side of zero. About
        {{ formatCount(Math.round(outlook.visitorsADay)) }} visitors a day are expected, as in the last days. The lift
        may be whatever the data so far allow. Guardrails are left out.
      </p>
    </details>
  </section>
</template>
