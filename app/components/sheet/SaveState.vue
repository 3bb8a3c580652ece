<script setup lang="ts">
/** Whether the server has everything that was changed on the open sheet. */
const store = useSheetStore()
const words = computed(() => {
  const { work } = store
  if (!work) return ''
  const unsaved = work.unsaved.value
  if (work.trouble.value && work.kept.waiting.length > 0)
    return `Not saved: ${work.trouble.value} Kept on this device, and tried again by itself.`
  if (work.kept.waiting.length > 0) return 'Saving …'
  if (unsaved > 0) return unsaved === 1 ? 'One thing is not saved yet.' : `${unsaved} things are not saved yet.`
  return 'Saved'
})
</script>

<template>
  <span role="status" data-testid="save-state" :class="{ 'text-rust': words.startsWith('Not saved') }">{{
    words
  }}</span>
</template>
