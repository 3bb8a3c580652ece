<script setup lang="ts">
/** Says that edits make a page scroll sideways in its window. */
defineProps<{ by: number }>()
</script>

<template>
  <p v-if="by > 0" class="border-l-4 border-rust py-1 pl-3 text-sm" role="status">
    With these edits the page scrolls sideways: it is {{ formatCount(by) }} px wider than this window.
  </p>
</template>
