<script setup lang="ts" generic="Value extends string">
import type { FieldState } from '~/composables/useSheetThing'

const props = defineProps<{
  label: string
  hint?: string
  error?: string
  state?: FieldState
  choices: readonly { value: Value; label: string }[]
  isBare?: boolean
  /** The words for a value, where it holds more than the choice. */
  show?: (value: unknown) => string
}>()
const emit = defineEmits<{ commit: [] }>()
const value = defineModel<Value>({ required: true })
const labelOf = (chosen: unknown) => props.choices.find((choice) => choice.value === chosen)?.label ?? ''
</script>

<template>
  <LabeledField
    v-slot="{ id, invalid, describedBy }"
    :label="label"
    :hint="hint"
    :error="error"
    :state="state"
    :show="show ?? labelOf"
    :is-bare="isBare"
  >
    <select
      :id="id"
      v-model="value"
      class="field"
      :aria-invalid="invalid"
      :aria-describedby="describedBy"
      @change="emit('commit')"
    >
      <option v-for="choice in choices" :key="choice.value" :value="choice.value">{{ choice.label }}</option>
    </select>
  </LabeledField>
</template>
