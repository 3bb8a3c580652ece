<script setup lang="ts">
/** Every piece of the interface in light and dark: reachable in development only. */
definePageMeta({ layout: false })
useHead({ title: 'Pieces · Vetch' })
const schemes = [
  { name: 'Light', class: '' },
  { name: 'Dark', class: 'dark' },
]
const isDark = useDark()
onMounted(() => (isDark.value = false))
</script>

<template>
  <main class="grid min-h-dvh lg:grid-cols-2">
    <h1 class="sr-only">Pieces</h1>
    <div v-for="scheme in schemes" :key="scheme.name" :class="scheme.class">
      <PieceList class="min-h-full bg-ground p-6 text-ink" :scheme="scheme.name" />
    </div>
  </main>
</template>
