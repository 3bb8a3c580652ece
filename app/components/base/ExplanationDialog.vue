<script setup lang="ts">
const explanation = useExplanation()
const isOpen = computed({
  get: () => explanation.value !== null,
  set: (open) => void (explanation.value = open ? explanation.value : null),
})
onUnmounted(() => (explanation.value = null))
</script>

<template>
  <PlainDialog v-model:open="isOpen" :title="explanation?.title ?? ''">
    <div v-if="explanation" class="flex flex-col gap-3" data-testid="explanation">
      <p class="text-lg font-semibold">{{ explanation.value }}</p>
      <p>{{ explanation.definition }}</p>
      <dl class="grid grid-cols-[auto_1fr] gap-x-6 gap-y-1 border-y border-line py-2">
        <template v-for="input in explanation.inputs" :key="input.name">
          <dt class="text-ink-soft">{{ input.name }}</dt>
          <dd class="text-right">{{ input.value }}</dd>
        </template>
      </dl>
      <p>
        <code class="font-mono text-xs">{{ explanation.formula }}</code>
      </p>
      <p v-if="explanation.source" class="text-sm text-ink-soft">{{ explanation.source }}</p>
    </div>
    <template #actions><BaseButton @click="isOpen = false">Close</BaseButton></template>
  </PlainDialog>
</template>
