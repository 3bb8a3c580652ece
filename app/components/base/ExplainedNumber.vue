<script setup lang="ts">
import type { ExplainedFurther } from '~/composables/useExplanation'

/** A number that opens to its definition, inputs, formula and statement, as the server tells them. */
const props = defineProps<{ load: () => Promise<ExplainedFurther> }>()
const { open } = useExplanation()
</script>

<template>
  <button
    type="button"
    class="cursor-help [text-align:inherit] decoration-line-strong decoration-dotted underline-offset-4 hover:underline"
    title="How do you know?"
    @click="open(props.load)"
  >
    <slot />
  </button>
</template>
