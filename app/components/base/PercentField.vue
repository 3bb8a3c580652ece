<script setup lang="ts">
import type { FieldState } from '~/composables/useSheetThing'

/** Edits a fraction as percent. What cannot be read as a number is passed on as it was typed. */
const props = defineProps<{
  label: string
  hint?: string
  error?: string
  state?: FieldState
  /** In percent, as it would be typed. */
  placeholder?: string
  digits?: number
}>()
const emit = defineEmits<{ commit: [] }>()
const share = defineModel<number | string | null>({ required: true })
const asText = (value: unknown) =>
  typeof value === 'number' ? String(Number((value * 100).toFixed(props.digits ?? 2))) : String(value ?? '')
const text = ref(asText(share.value))

watch(share, (value) => {
  if (parse(text.value) !== value) text.value = asText(value)
})
function parse(typed: string): number | string {
  const cleaned = typed.trim().replace(',', '.').replace(/\s*%$/, '')
  return cleaned === '' || Number.isNaN(Number(cleaned)) ? typed : Number((Number(cleaned) / 100).toFixed(8))
}
</script>

<template>
  <LabeledField
    v-slot="{ id, invalid, describedBy }"
    :label="label"
    :hint="hint"
    :error="error"
    :state="state"
    :show="(value) => `${asText(value)} %`"
  >
    <span class="flex items-center gap-2">
      <input
        :id="id"
        v-model="text"
        class="field text-right"
        inputmode="decimal"
        :placeholder="placeholder"
        :aria-invalid="invalid"
        :aria-describedby="describedBy"
        @input="share = parse(text)"
        @change="emit('commit')"
      />
      <span class="text-ink-soft">%</span>
    </span>
  </LabeledField>
</template>
