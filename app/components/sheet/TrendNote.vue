<script setup lang="ts">
import type { TrendView } from '~~/shared/experiments/resultsReplies'

/** In sentences, whether the lift rises or falls, and whether the first week carries it. */
const props = defineProps<{ trend: TrendView['comparisons'][number]; alpha: number }>()
const pace = computed(() => {
  const { trend } = props.trend
  if (!trend) return 'With three weeks or more, Vetch says whether the lift rises or falls.'
  const { perWeek, interval, pValue } = trend
  const words = `${formatLift(perWeek)} a week (${formatInterval(interval)}), ${formatPEquals(pValue)}`
  if (pValue >= props.alpha) return `No sign that the lift rises or falls from week to week: ${words}.`
  return `The lift ${perWeek < 0 ? 'falls' : 'rises'} from week to week: ${words}.`
})
const carried = computed(() => {
  const { firstWeek } = props.trend
  if (!firstWeek?.carriesResult) return null
  const later = firstWeek.later.interval ? ` (${formatInterval(firstWeek.later.interval)})` : ''
  return `The first week carries the result: ${formatLift(firstWeek.first.estimate)} then, ${formatLift(firstWeek.later.estimate)}${later} since.`
})
</script>

<template>
  <div class="flex flex-col gap-1" data-testid="trend">
    <p v-if="carried" class="max-w-[72ch] border-l-4 border-rust py-1 pl-3" role="status">{{ carried }}</p>
    <p class="max-w-[72ch] text-sm">
      {{ pace }} <span class="text-ink-soft">A weighted line through the ratios of the two.</span>
    </p>
  </div>
</template>
