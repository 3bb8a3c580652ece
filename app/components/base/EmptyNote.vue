<script setup lang="ts">
/** Nothing is here yet: what it would be, and the next step in the slot. */
defineProps<{ text: string }>()
</script>

<template>
  <div class="flex max-w-[60ch] flex-col items-start gap-3">
    <p>{{ text }}</p>
    <slot />
  </div>
</template>
