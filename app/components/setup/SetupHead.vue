<script setup lang="ts">
/** The title of Setup, and its parts. */
const props = defineProps<{ siteId: number; note?: string }>()
const parts = computed(() => [
  { label: 'Site', to: `/sites/${props.siteId}/setup/site` },
  { label: 'Collection', to: `/sites/${props.siteId}/setup/collection` },
  { label: 'Metrics', to: `/sites/${props.siteId}/setup/metrics` },
  { label: 'People', to: `/sites/${props.siteId}/setup/people` },
  { label: 'Webhooks', to: `/sites/${props.siteId}/setup/webhooks` },
])
</script>

<template>
  <div class="mb-6">
    <h1>Setup</h1>
    <p v-if="note" class="text-ink-soft">{{ note }}</p>
    <PartNav label="Parts of Setup" :parts="parts" />
  </div>
</template>
