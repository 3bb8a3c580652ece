<script setup lang="ts">
/** The title of Setup, and its parts. */
const props = defineProps<{ siteId: number; note?: string }>()
const route = useRoute()
const parts = computed(() => [
  { label: 'Site', to: `/sites/${props.siteId}/setup/site` },
  { label: 'Collection', to: `/sites/${props.siteId}/setup/collection` },
  { label: 'People', to: `/sites/${props.siteId}/setup/people` },
])
</script>

<template>
  <div class="mb-6">
    <h1>Setup</h1>
    <p v-if="note" class="text-ink-soft">{{ note }}</p>
    <nav class="mt-3 flex gap-6 border-b border-line" aria-label="Parts of Setup">
      <NuxtLink
        v-for="part in parts"
        :key="part.to"
        :to="part.to"
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
