<script setup lang="ts">
/** One section of a sheet; `name` is the place that preflight links to. */
defineProps<{ name: string; title: string; note?: string }>()
</script>

<template>
  <section :id="name" class="scroll-mt-6" :aria-labelledby="`${name}-title`">
    <div class="mb-3 flex flex-wrap items-baseline gap-x-3 border-b border-line pb-1.5">
      <h2 :id="`${name}-title`">{{ title }}</h2>
      <p v-if="note" class="text-sm text-ink-soft">{{ note }}</p>
      <div class="ml-auto"><slot name="action" /></div>
    </div>
    <slot />
  </section>
</template>
