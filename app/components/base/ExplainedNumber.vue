<script setup lang="ts">
import type { Explanation } from '~/explanations/explanations'

/** A number that opens to its definition, inputs and formula. */
const props = defineProps<{ explain: () => Explanation }>()
const explanation = useExplanation()
</script>

<template>
  <button
    type="button"
    class="cursor-help [text-align:inherit] decoration-line-strong decoration-dotted underline-offset-4 hover:underline"
    title="How do you know?"
    @click="explanation = props.explain()"
  >
    <slot />
  </button>
</template>
