<script setup lang="ts">
import type { FieldState } from '~/composables/useSheetThing'

withDefaults(
  defineProps<{
    label: string
    hint?: string
    error?: string
    state?: FieldState
    type?: string
    /** Takes a number: aligned to the right, with the keys for it on a phone. */
    numeric?: boolean
    placeholder?: string
    autocomplete?: string
    unit?: string
    isBare?: boolean
  }>(),
  { type: 'text' },
)
const emit = defineEmits<{ commit: [] }>()
const value = defineModel<string | number | null>({ required: true })
</script>

<template>
  <LabeledField
    v-slot="{ id, invalid, describedBy }"
    :label="label"
    :hint="hint"
    :error="error"
    :state="state"
    :is-bare="isBare"
  >
    <span class="flex items-center gap-2">
      <input
        :id="id"
        v-model="value"
        class="field"
        :class="{ 'text-right': numeric }"
        :type="type"
        :inputmode="numeric ? 'decimal' : undefined"
        :placeholder="placeholder"
        :autocomplete="autocomplete"
        :aria-invalid="invalid"
        :aria-describedby="describedBy"
        @change="emit('commit')"
      />
      <span v-if="unit" class="text-ink-soft">{{ unit }}</span>
    </span>
  </LabeledField>
</template>
