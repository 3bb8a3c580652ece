<script setup lang="ts">
/** Says of intervals for one look that it is too early to read them. */
defineProps<{ isConcluded: boolean }>()
const store = useSheetStore()
/** What is served waits for no verdict. */
const hasNoVerdict = computed(() => store.sheet?.purpose === 'serve')
</script>

<template>
  <p v-if="!isConcluded" class="text-sm text-rust" data-testid="one-look">
    <template v-if="hasNoVerdict">
      These intervals are for one look. If you look every day, some differ by chance alone.
    </template>
    <template v-else>
      Too early to read. These intervals are for one look. If you look every day, some differ by chance alone. Read them
      once the verdict is reached.
    </template>
  </p>
</template>
