<script setup lang="ts">
withDefaults(
  defineProps<{
    label: string
    hint?: string
    error?: string
    type?: string
    placeholder?: string
    disabled?: boolean
    autocomplete?: string
    unit?: string
  }>(),
  { type: 'text' },
)
const emit = defineEmits<{ commit: [] }>()
const value = defineModel<string | number>({ required: true })
</script>

<template>
  <LabeledField v-slot="{ id, invalid, describedBy }" :label="label" :hint="hint" :error="error">
    <span class="flex items-center gap-2">
      <input
        :id="id"
        v-model="value"
        class="field"
        :type="type"
        :placeholder="placeholder"
        :disabled="disabled"
        :autocomplete="autocomplete"
        :aria-invalid="invalid"
        :aria-describedby="describedBy"
        @change="emit('commit')"
      />
      <span v-if="unit" class="text-ink-soft">{{ unit }}</span>
    </span>
  </LabeledField>
</template>
