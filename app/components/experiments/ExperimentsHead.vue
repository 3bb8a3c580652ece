<script setup lang="ts">
/** The title of Experiments, what can be done there, and its parts. */
const props = defineProps<{ siteId: number; note?: string }>()
const parts = computed(() => [
  { label: 'All', to: `/sites/${props.siteId}/experiments`, isExact: true },
  { label: 'Audiences', to: `/sites/${props.siteId}/experiments/audiences` },
  { label: 'Shared traffic', to: `/sites/${props.siteId}/experiments/traffic` },
  { label: 'Dry run', to: `/sites/${props.siteId}/experiments/dry-run` },
])
</script>

<template>
  <div class="mb-5">
    <header class="flex flex-wrap items-start gap-3">
      <div class="mr-auto min-w-0">
        <h1>Experiments</h1>
        <p v-if="note" class="text-ink-soft">{{ note }}</p>
      </div>
      <slot />
    </header>
    <PartNav label="Parts of Experiments" :parts="parts" />
  </div>
</template>
