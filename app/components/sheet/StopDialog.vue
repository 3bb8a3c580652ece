<script setup lang="ts">
import type { EndInput } from '~~/shared/experiments/experiment'

/** Asks before a personalization is stopped for good. */
const emit = defineEmits<{ end: [ending: EndInput] }>()
const open = defineModel<boolean>('open', { required: true })
const reason = ref('')
</script>

<template>
  <PlainDialog v-model:open="open" title="Stop this personalization?">
    <p>Everybody sees the original from now on. Its effect stays on this sheet.</p>
    <LabeledField v-slot="{ id }" class="mt-3" label="Why" hint="For those who come back to it.">
      <textarea :id="id" v-model="reason" class="field" rows="2" maxlength="2000" />
    </LabeledField>
    <p class="mt-3 text-sm text-ink-soft">
      It cannot be started again; a copy of it can. To stop for a while, pause it.
    </p>
    <template #actions>
      <BaseButton kind="quiet" @click="open = false">Cancel</BaseButton>
      <BaseButton kind="main" @click="emit('end', { variant: null, reason, rollout: null })">Stop</BaseButton>
    </template>
  </PlainDialog>
</template>
