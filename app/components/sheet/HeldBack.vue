<script setup lang="ts">
import { heldBackShare, MOST_HELD_BACK, weightsHolding } from '~~/core/sheet/heldBack'

/** The share of its visitors who never get a personalization, so that its effect is known. */
const { content, make } = useSheetChanges()
const weights = computed(() => content.value.variants.map(({ weight }) => weight))
const typed = ref<number | string | null>(heldBackShare(weights.value))
const error = ref<string>()
watch(weights, (own) => {
  typed.value = heldBackShare(own)
  error.value = undefined
})
function commit(): void {
  const share = typed.value
  error.value = wrong(share)
  if (error.value !== undefined || typeof share !== 'number') return
  const next = weightsHolding(Math.round(share * 10_000), weights.value)
  const { variants } = content.value
  const to = { variants: variants.map((variant, position) => ({ ...variant, weight: next[position]! })) }
  make({ do: 'replace', from: { variants }, to }, `Held back: ${formatPercent(share)}.`)
}
function wrong(share: number | string | null): string | undefined {
  if (typeof share !== 'number') return 'Type the share in percent.'
  if (share < 0) return 'The share is at least 0 %.'
  if (share > MOST_HELD_BACK / 10_000) return 'Hold back at most half. To split evenly, make an experiment.'
  return undefined
}
</script>

<template>
  <PercentField
    v-model="typed"
    class="w-64"
    label="Held back"
    hint="They see the original for good, so that the effect is known."
    :error="error"
    @commit="commit"
  />
</template>
