<script setup lang="ts">
import type { Trait } from '~~/core/traffic/splitByTrait'
import type { SplitView } from '~~/shared/experiments/resultsReplies'
import { TRAIT_NAMES } from '~/sheets/splitTraits'

/** What visitors are told apart by; a mark where the split depends on it. */
const props = defineProps<{ split: SplitView; shown: Trait | null }>()
const chosen = defineModel<Trait | null>({ required: true })
const offered = computed(() =>
  props.split.traits.filter(({ trait, values }) => trait !== 'period' || values.length > 1),
)
</script>

<template>
  <div role="group" aria-label="Visitors by" class="flex flex-wrap gap-1">
    <BaseButton
      v-for="{ trait, matters } in offered"
      :key="trait"
      kind="quiet"
      class="py-0.5"
      :class="{ 'bg-neutral-soft font-semibold': trait === shown }"
      :aria-pressed="trait === shown"
      @click="chosen = trait"
      ><template v-if="matters"
        ><span aria-hidden="true" class="text-rust">✕ </span><span class="sr-only">off: </span></template
      >{{ TRAIT_NAMES[trait] }}</BaseButton
    >
  </div>
</template>
