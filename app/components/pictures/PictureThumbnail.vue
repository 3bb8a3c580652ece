<script setup lang="ts">
import type { VariantPicture } from '~~/shared/pictures/replies'

/** The top of a picture, and how much looks wrong on all of it. */
defineProps<{ picture: VariantPicture; address: string; title: string }>()
const emit = defineEmits<{ open: [picture: VariantPicture] }>()
</script>

<template>
  <button
    type="button"
    class="block w-36 rounded border border-line-strong bg-raised text-left hover:border-accent"
    :aria-label="`Open the picture of ${title}`"
    @click="emit('open', picture)"
  >
    <img :src="address" alt="" class="h-40 w-full rounded-t object-cover object-top" loading="lazy" />
    <span class="block border-t border-line px-2 py-1 text-sm">
      <span v-if="picture.isStale" class="text-ink-soft">Changed since</span>
      <span v-else-if="picture.problems.length > 0" class="font-semibold text-rust"
        >{{ picture.problems.length }} {{ picture.problems.length === 1 ? 'thing looks' : 'things look' }} wrong</span
      >
      <span v-else class="text-ink-soft">Nothing wrong</span>
    </span>
  </button>
</template>
