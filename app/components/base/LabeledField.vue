<script setup lang="ts">
import type { FieldState } from '~/composables/useSheetThing'

/** Label, hint and message around one input, tied together for screen readers. */
const props = defineProps<{
  label: string
  hint?: string
  error?: string
  /** Of a field of the sheet. */
  state?: FieldState
  /** The words for a value of the field. */
  show?: (value: unknown) => string
  /** The label is for screen readers: what stands around says the same. */
  isBare?: boolean
}>()
const id = useId()
const message = computed(() => props.error ?? props.state?.errors[''])
</script>

<template>
  <div class="group flex min-w-0 flex-col gap-1">
    <label :for="id" class="text-sm font-medium" :class="{ 'sr-only': isBare }">{{ label }}</label>
    <slot :id="id" :invalid="message ? true : undefined" :described-by="message || hint ? `${id}-note` : undefined" />
    <p v-if="message" :id="`${id}-note`" class="text-sm text-rust" role="alert">
      {{ message }} <span v-if="state?.isUnsaved">Not saved yet.</span>
    </p>
    <p v-else-if="hint" :id="`${id}-note`" class="text-sm text-ink-soft">{{ hint }}</p>
    <FieldConflict v-if="state?.conflict" :conflict="state.conflict" :label="label" :show="show" />
    <p v-else-if="state?.isUnsaved && !message" class="text-sm text-rust group-focus-within:hidden">Not saved yet.</p>
  </div>
</template>
