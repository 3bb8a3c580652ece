<script setup lang="ts">
/** SQL to be read, and copied. */
defineProps<{ sql: string; label: string }>()
</script>

<template>
  <pre
    class="mt-2 max-h-64 overflow-auto rounded border border-line p-3 font-mono text-xs whitespace-pre-wrap"
    tabindex="0"
    :aria-label="label"
    >{{ sql }}</pre>
</template>
