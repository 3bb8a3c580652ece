<script setup lang="ts">
/** The title of a view, one line that says what it is for, and what can be done there. */
defineProps<{ title: string; note?: string }>()
</script>

<template>
  <header class="mb-6 flex flex-wrap items-start gap-3">
    <div class="mr-auto min-w-0">
      <h1>{{ title }}</h1>
      <p v-if="note" class="text-ink-soft">{{ note }}</p>
    </div>
    <slot />
  </header>
</template>
