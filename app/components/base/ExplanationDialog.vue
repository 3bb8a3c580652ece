<script setup lang="ts">
const { isOpen, explanation, problem } = useExplanation()
onUnmounted(() => (isOpen.value = false))
</script>

<template>
  <PlainDialog v-model:open="isOpen" :title="explanation?.title ?? 'How do you know?'">
    <p v-if="problem" role="alert">{{ problem }}</p>
    <LoadingNote v-else-if="!explanation" />
    <div v-else class="flex flex-col gap-3" data-testid="explanation">
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
      <details>
        <summary class="text-sm text-ink-soft">The statement that reads it</summary>
        <StatementBlock :sql="explanation.sql" label="Statement" />
      </details>
      <EventsStatementDetails v-if="explanation.fromEvents" :load="explanation.fromEvents" />
    </div>
    <template #actions><BaseButton @click="isOpen = false">Close</BaseButton></template>
  </PlainDialog>
</template>
