<script setup lang="ts">
/** Edits a fraction as percent. What cannot be read as a number is passed on as NaN, and stays in the field. */
const props = defineProps<{ label: string; hint?: string; error?: string; disabled?: boolean; digits?: number }>()
const emit = defineEmits<{ commit: [] }>()
const share = defineModel<number>({ required: true })
const asText = (value: number) => String(Number((value * 100).toFixed(props.digits ?? 2)))
const text = ref(asText(share.value))

watch(share, (value) => {
  if (!Number.isNaN(value) && parse(text.value) !== value) text.value = asText(value)
})
function parse(typed: string): number {
  const cleaned = typed.trim().replace(',', '.').replace(/\s*%$/, '')
  return cleaned === '' ? Number.NaN : Number((Number(cleaned) / 100).toFixed(8))
}
function commit(): void {
  share.value = parse(text.value)
  emit('commit')
}
</script>

<template>
  <LabeledField v-slot="{ id, invalid, describedBy }" :label="label" :hint="hint" :error="error">
    <span class="flex items-center gap-2">
      <input
        :id="id"
        v-model="text"
        class="field text-right"
        inputmode="decimal"
        :disabled="disabled"
        :aria-invalid="invalid"
        :aria-describedby="describedBy"
        @change="commit"
      />
      <span class="text-ink-soft">%</span>
    </span>
  </LabeledField>
</template>
