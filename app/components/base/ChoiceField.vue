<script setup lang="ts" generic="Value extends string">
defineProps<{
  label: string
  hint?: string
  error?: string
  disabled?: boolean
  choices: readonly { value: Value; label: string }[]
}>()
const emit = defineEmits<{ commit: [] }>()
const value = defineModel<Value>({ required: true })
</script>

<template>
  <LabeledField v-slot="{ id, invalid, describedBy }" :label="label" :hint="hint" :error="error">
    <select
      :id="id"
      v-model="value"
      class="field"
      :disabled="disabled"
      :aria-invalid="invalid"
      :aria-describedby="describedBy"
      @change="emit('commit')"
    >
      <option v-for="choice in choices" :key="choice.value" :value="choice.value">{{ choice.label }}</option>
    </select>
  </LabeledField>
</template>
