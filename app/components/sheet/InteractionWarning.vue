<script setup lang="ts">
import type { ExperimentSheet } from '~~/shared/experiments/replies'

/** Before somebody decides: other experiments that the effect depends on. */
const props = defineProps<{ sheet: ExperimentSheet }>()
const api = useApi()
const store = useSheetStore()
const { value: others } = useLoaded(() => api('readInteractions', store.place))
const found = computed(() =>
  (others.value ?? []).filter(({ comparisons }) =>
    comparisons.some(({ adjustedPValue }) => adjustedPValue !== null && adjustedPValue < props.sheet.plan.alpha),
  ),
)
</script>

<template>
  <p v-if="found.length > 0" class="border-l-4 border-rust py-1 pl-3" role="status">
    The effect depends on what visitors saw of {{ found.map(({ name }) => `“${name}”`).join(', ') }}. Look at “Other
    experiments on the same visitors” first.
  </p>
</template>
