<script setup lang="ts">
const targets = useSkipTargets()
const LINK = 'sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-raised focus:p-2'
</script>

<template>
  <a href="#main" :class="LINK">Skip to the content</a>
  <button v-for="{ name, focus } in targets" :key="name" type="button" :class="LINK" @click="focus">
    Skip to {{ name }}
  </button>
</template>
