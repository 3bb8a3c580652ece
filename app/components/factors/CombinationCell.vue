<script setup lang="ts">
/** One combination in the grid: its mark, whether it is on, and a way to see it beside the control. */
defineProps<{
  name: string
  /** Among those that are on; −1 for one that is off. */
  position: number
  isControl: boolean
  mayEdit?: boolean
  /** Where it is seen beside the control. */
  compare: string
}>()
const emit = defineEmits<{ toggle: [] }>()
</script>

<template>
  <div class="flex items-center gap-2 whitespace-nowrap">
    <input
      v-if="mayEdit && !isControl"
      type="checkbox"
      class="size-4 accent-accent"
      :checked="position >= 0"
      :aria-label="`Show visitors ${name}`"
      @click.prevent="emit('toggle')"
    />
    <VariantMark v-if="position >= 0" :position="position" />
    <span v-else class="text-ink-soft">Off</span>
    <span v-if="isControl">Control</span>
    <NuxtLink v-else-if="position >= 0" :to="compare" class="text-accent underline" :aria-label="`See ${name}`"
      >See it</NuxtLink
    >
  </div>
</template>
