<script setup lang="ts">
/** Label, hint and message around one input, tied together for screen readers. */
defineProps<{ label: string; hint?: string; error?: string }>()
const id = useId()
</script>

<template>
  <div class="flex min-w-0 flex-col gap-1">
    <label :for="id" class="text-sm font-medium">{{ label }}</label>
    <slot :id="id" :invalid="error ? true : undefined" :described-by="error || hint ? `${id}-note` : undefined" />
    <p v-if="error" :id="`${id}-note`" class="text-sm text-rust" role="alert">{{ error }}</p>
    <p v-else-if="hint" :id="`${id}-note`" class="text-sm text-ink-soft">{{ hint }}</p>
  </div>
</template>
