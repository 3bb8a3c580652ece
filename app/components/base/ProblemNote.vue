<script setup lang="ts">
defineProps<{ text: string }>()
const emit = defineEmits<{ retry: [] }>()
</script>

<template>
  <div class="flex items-center gap-4 border-l-4 border-rust py-2 pl-4" role="alert">
    <p>{{ text }}</p>
    <BaseButton @click="emit('retry')">Try again</BaseButton>
  </div>
</template>
