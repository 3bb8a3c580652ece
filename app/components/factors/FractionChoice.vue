<script setup lang="ts">
import { allCombinations, combinationCount } from '~~/core/factors/combinations'
import { MOST_COMBINATIONS_ON } from '~~/core/preflight/factorFindings'
import { balancedFraction } from '~~/core/statistics/balancedFraction'
import type { SheetContent } from '~~/core/sheet/content'

/** Too many combinations for the traffic: few of them that still tell what each factor does. */
const props = defineProps<{ content: SheetContent }>()
const emit = defineEmits<{ choose: [off: { id: string }[], told: string] }>()
const total = computed(() => combinationCount(props.content.factors))
const mayChoose = computed(() => total.value > 4 && props.content.factors.every(({ levels }) => levels.length > 1))
const problem = ref<string | null>(null)
watch(total, () => (problem.value = null))

function choose(): void {
  const { factors } = props.content
  // All together are no fraction: where they could run, fewer are asked for.
  const most = Math.min(MOST_COMBINATIONS_ON, total.value - 1)
  const fraction = balancedFraction(
    factors.map(({ levels }) => levels.length),
    most,
  )
  if (!fraction) {
    problem.value = `${most} combinations are too few to tell what each level does. Remove a level or a factor.`
    return
  }
  const off = allCombinations(factors, []).filter((_, position) => !fraction.positions.includes(position))
  emit(
    'choose',
    off.map(({ id }) => ({ id })),
    fraction.isOrthogonal
      ? `Took ${fraction.positions.length} combinations in which all levels meet equally often.`
      : `Took ${fraction.positions.length} combinations, as balanced as so few can be.`,
  )
}
</script>

<template>
  <span class="flex flex-wrap gap-x-2">
    <BaseButton v-if="mayChoose" kind="quiet" @click="choose">Take a balanced fraction</BaseButton>
    <BaseButton
      v-if="content.variants.length < total"
      kind="quiet"
      @click="emit('choose', [], 'Switched on all combinations.')"
      >Switch all on</BaseButton
    >
    <span v-if="problem" role="alert" class="self-center text-rust">{{ problem }}</span>
  </span>
</template>
