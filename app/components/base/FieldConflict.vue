<script setup lang="ts">
import type { FieldState } from '~/composables/useSheetThing'

/** Two versions of one field: what was written here stands above, what the sheet says by now is told. */
const props = defineProps<{
  conflict: NonNullable<FieldState['conflict']>
  label: string
  show?: (value: unknown) => string
}>()
const theirs = computed(() => {
  const words = props.show ? props.show(props.conflict.theirs) : String(props.conflict.theirs ?? '')
  return words === '' ? 'nothing' : `“${words}”`
})
</script>

<template>
  <div class="border-l-2 border-rust pl-3 text-sm" role="alert">
    <p>Somebody else changed this to {{ theirs }}. Your change is not saved.</p>
    <p class="flex gap-4">
      <button
        type="button"
        class="font-medium text-accent underline"
        :aria-label="`Use mine: ${label}`"
        @click="conflict.keepMine"
      >
        Use mine
      </button>
      <button
        type="button"
        class="font-medium text-accent underline"
        :aria-label="`Use theirs: ${label}`"
        @click="conflict.takeTheirs"
      >
        Use theirs
      </button>
    </p>
  </div>
</template>
