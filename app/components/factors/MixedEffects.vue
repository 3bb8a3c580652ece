<script setup lang="ts">
import type { Combination } from '~~/core/factors/combinations'
import { mixedEffects, type EffectName } from '~~/core/statistics/factorial'
import type { SheetFactor } from '~~/core/sheet/content'

/** What the combinations that are on cannot tell apart. */
const props = defineProps<{ factors: readonly SheetFactor[]; combinations: readonly Combination[] }>()
const MOST_NAMED = 6
const mixed = computed(() =>
  mixedEffects(
    props.factors.map(({ name, levels }) => ({ name, levels: levels.map((level) => level.name) })),
    props.combinations.map(({ levels }) => levels.map(({ name }) => name)),
  ).filter(({ effect }) => effect !== null),
)
function inWords({ factors, levels }: EffectName): string {
  return factors
    .map((factor, place) => {
      const levelCount = props.factors.find(({ name }) => name === factor)?.levels.length ?? 0
      return levelCount > 2 ? `${factor} (${levels[place]})` : factor
    })
    .join(' with ')
}
</script>

<template>
  <details v-if="mixed.length > 0" class="mt-2 text-sm text-ink-soft">
    <summary class="cursor-pointer">What these combinations cannot tell apart</summary>
    <ul class="mt-1 list-disc pl-5">
      <li v-for="({ effect, with: others }, place) in mixed.slice(0, MOST_NAMED)" :key="place">
        {{ inWords(effect!) }} from {{ others.map(inWords).join(', ') }}
      </li>
      <li v-if="mixed.length > MOST_NAMED">and {{ mixed.length - MOST_NAMED }} more</li>
    </ul>
  </details>
</template>
