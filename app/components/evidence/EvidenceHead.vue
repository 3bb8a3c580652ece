<script setup lang="ts">
/** The title of Evidence, and its views. The filter in the address goes along from one to the next. */
const props = defineProps<{ siteId: number; note: string }>()
const route = useRoute()
const KEPT = ['days', 'from', 'to', 'segment', 'page', 'compare']
const parts = computed(() => {
  const base = `/sites/${props.siteId}/evidence`
  return [
    { label: 'Pages', to: `${base}/pages` },
    { label: 'Visitors', to: `${base}/visitors` },
    { label: 'Heatmap', to: `${base}/heatmap` },
    { label: 'Recordings', to: `${base}/recordings` },
    { label: 'Funnels', to: `${base}/funnels` },
    { label: 'Forms', to: `${base}/forms` },
    { label: 'Surveys', to: `${base}/surveys` },
    { label: 'Events', to: `${base}/events` },
    { label: 'Findings', to: `${base}/findings` },
  ]
})
const query = computed(() => Object.fromEntries(Object.entries(route.query).filter(([name]) => KEPT.includes(name))))
</script>

<template>
  <div class="mb-5">
    <div class="flex flex-wrap items-baseline gap-x-4">
      <h1>Evidence</h1>
      <p class="text-ink-soft">{{ note }}</p>
    </div>
    <PartNav label="Views of Evidence" :parts="parts" :query="query" />
  </div>
</template>
