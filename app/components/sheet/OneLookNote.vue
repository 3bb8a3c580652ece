<script setup lang="ts">
/** Says that numbers hold for one look only, as long as they are looked at every day. */
defineProps<{ isConcluded: boolean }>()
</script>

<template>
  <p v-if="!isConcluded" class="text-sm text-rust" data-testid="one-look">
    Too early to read: these hold for one look. Looked at every day, some differ by chance alone. Read them once the
    verdict is reached.
  </p>
</template>
