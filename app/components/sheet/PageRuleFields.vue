<script setup lang="ts">
import type { PageMatch } from '~~/core/targeting/pageRule'
import type { SheetPageRule } from '~~/core/sheet/content'

defineProps<{ disabled: boolean; mayRemove: boolean; state: (field: 'match' | 'value') => FieldState }>()
const emit = defineEmits<{ commit: []; remove: [] }>()
const rule = defineModel<SheetPageRule>({ required: true })
const MATCHES: { value: PageMatch; label: string }[] = [
  { value: 'exact', label: 'is' },
  { value: 'begins', label: 'begins with' },
  { value: 'contains', label: 'contains' },
]
</script>

<template>
  <div class="grid max-w-2xl grid-cols-[8rem_1fr_auto] items-start gap-x-3 gap-y-1 sm:grid-cols-[10rem_1fr_5rem]">
    <ChoiceField
      v-model="rule.match"
      label="Address"
      :choices="MATCHES"
      :disabled="disabled"
      :state="state('match')"
      @commit="emit('commit')"
    />
    <TextField
      v-model="rule.value"
      label="Path"
      placeholder="/crossings/torrin"
      :disabled="disabled"
      :state="state('value')"
      @commit="emit('commit')"
    />
    <BaseButton
      v-if="mayRemove && !disabled"
      class="mt-6"
      kind="quiet"
      :aria-label="`Remove the address ${rule.value}`"
      @click="emit('remove')"
      >Remove</BaseButton
    >
  </div>
</template>
