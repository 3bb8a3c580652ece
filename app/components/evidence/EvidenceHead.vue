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
    { label: 'Events', to: `${base}/events` },
  ]
})
const query = computed(() => Object.fromEntries(Object.entries(route.query).filter(([name]) => KEPT.includes(name))))
</script>

<template>
  <div class="mb-5">
    <h1>Evidence</h1>
    <p class="text-ink-soft">{{ note }}</p>
    <nav class="mt-3 flex flex-wrap gap-x-6 border-b border-line" aria-label="Views of Evidence">
      <NuxtLink
        v-for="part in parts"
        :key="part.to"
        :to="{ path: part.to, query }"
        class="-mb-px border-b-2 pb-1.5"
        :class="
          route.path === part.to
            ? 'border-accent font-semibold text-accent'
            : 'border-transparent text-ink-soft hover:text-ink'
        "
        :aria-current="route.path === part.to ? 'page' : undefined"
        >{{ part.label }}</NuxtLink
      >
    </nav>
  </div>
</template>
