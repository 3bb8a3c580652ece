<script setup lang="ts">
import type { LocationQueryRaw } from 'vue-router'

/** The views of an area, beside each other; the one that is open is marked. */
defineProps<{
  label: string
  /** One that is exact is not marked for what lies below it. */
  parts: readonly { label: string; to: string; isExact?: boolean }[]
  /** Goes along from one to the next. */ query?: LocationQueryRaw
}>()
const route = useRoute()
const isOpen = ({ to, isExact }: { to: string; isExact?: boolean }) =>
  route.path === to || (!isExact && route.path.startsWith(`${to}/`))
</script>

<template>
  <nav class="mt-3 flex flex-wrap gap-x-6 border-b border-line" :aria-label="label">
    <NuxtLink
      v-for="part in parts"
      :key="part.to"
      :to="{ path: part.to, query }"
      class="-mb-px border-b-2 pb-1.5"
      :class="
        isOpen(part) ? 'border-accent font-semibold text-accent' : 'border-transparent text-ink-soft hover:text-ink'
      "
      :aria-current="isOpen(part) ? 'page' : undefined"
      >{{ part.label }}</NuxtLink
    >
  </nav>
</template>
