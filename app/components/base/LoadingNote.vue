<script setup lang="ts">
/** Says that something is on its way, once that takes long enough to be noticed. */
const isLong = ref(false)
useTimeoutFn(() => (isLong.value = true), 200)
</script>

<template>
  <p class="text-ink-soft" role="status">{{ isLong ? 'Loading …' : '' }}</p>
</template>
