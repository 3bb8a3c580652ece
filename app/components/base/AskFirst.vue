<script setup lang="ts">
/** A button for what cannot be undone: it says what follows before it is done. */
defineProps<{ label: string; ariaLabel?: string; title: string; text: string; disabled?: boolean }>()
const emit = defineEmits<{ confirm: [] }>()
const isOpen = ref(false)
function confirm(): void {
  isOpen.value = false
  emit('confirm')
}
</script>

<template>
  <BaseButton kind="quiet" :aria-label="ariaLabel" :disabled="disabled" @click="isOpen = true">{{ label }}</BaseButton>
  <PlainDialog v-model:open="isOpen" :title="title">
    <p>{{ text }}</p>
    <template #actions>
      <BaseButton kind="quiet" @click="isOpen = false">Cancel</BaseButton>
      <BaseButton kind="main" @click="confirm">{{ label }}</BaseButton>
    </template>
  </PlainDialog>
</template>
