<script setup lang="ts">
import { TrashIcon } from '@heroicons/vue/20/solid'

/** Deletes what one row of a table is about. */
defineProps<{ name: string }>()
const emit = defineEmits<{ remove: [] }>()
</script>

<template>
  <button
    type="button"
    class="rounded p-1 text-ink-soft hover:text-rust"
    :aria-label="`Delete ${name}`"
    title="Delete"
    @click="emit('remove')"
  >
    <TrashIcon class="size-4" aria-hidden="true" />
  </button>
</template>
