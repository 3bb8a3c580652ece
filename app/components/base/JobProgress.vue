<script setup lang="ts">
/** Work that takes a while: what it is, how far it is, and a way to stop it. */
defineProps<{ title: string; /** From 0 to 1. */ progress: number; problem?: string | null; hasNoCancel?: boolean }>()
const emit = defineEmits<{ cancel: [] }>()
</script>

<template>
  <div class="flex flex-wrap items-center gap-x-3 gap-y-1 border-l-4 border-line-strong py-1 pl-3">
    <span>{{ title }} …</span>
    <progress :value="progress" max="1" class="h-2 w-40" :aria-label="title" />
    <span class="text-sm" :class="problem ? 'text-rust' : 'text-ink-soft'">{{
      problem ?? `${Math.round(progress * 100)} %`
    }}</span>
    <BaseButton v-if="!hasNoCancel" class="ml-auto" kind="quiet" @click="emit('cancel')">Cancel</BaseButton>
  </div>
</template>
