<script setup lang="ts">
/** The title of Hypotheses, and its views. */
const props = defineProps<{ siteId: number; note: string }>()
const parts = computed(() => {
  const base = `/sites/${props.siteId}/hypotheses`
  return [
    { label: 'List', to: `${base}/list` },
    { label: 'Board', to: `${base}/board` },
    { label: 'Next quarter', to: `${base}/quarter` },
  ]
})
</script>

<template>
  <div class="mb-5">
    <h1>Hypotheses</h1>
    <p class="text-ink-soft">{{ note }}</p>
    <PartNav label="Views of Hypotheses" :parts="parts" />
  </div>
</template>
