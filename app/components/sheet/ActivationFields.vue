<script setup lang="ts">
import type { Activation } from '~~/core/targeting/activation'

/** When changes take effect on a page. */
const props = defineProps<{ activation: Activation | null; error?: string }>()
const emit = defineEmits<{ change: [activation: Activation | null]; commit: [] }>()
const MOMENTS = [
  { value: 'load', label: 'as the page loads' },
  { value: 'event', label: 'with an event of the page' },
  { value: 'element', label: 'once an element is there' },
  { value: 'call', label: 'when code calls for it' },
] as const
type Moment = (typeof MOMENTS)[number]['value']
const AWAITED = { event: 'Event', element: 'Element (CSS selector)', call: 'Called for as' }
const awaited = computed(() => {
  const waited = props.activation
  return waited === null ? '' : waited.on === 'element' ? waited.selector : waited.name
})
function choose(moment: Moment): void {
  emit('change', moment === 'load' ? null : waitingFor(moment, ''))
  if (moment === 'load') emit('commit')
}
function waitingFor(on: Activation['on'], text: string): Activation {
  return on === 'element' ? { on, selector: text } : { on, name: text }
}
</script>

<template>
  <div class="flex flex-wrap items-start gap-3">
    <ChoiceField
      class="w-64"
      :model-value="activation?.on ?? 'load'"
      label="Takes effect"
      :choices="MOMENTS"
      @update:model-value="choose($event)"
    />
    <TextField
      v-if="activation"
      class="w-64"
      :model-value="awaited"
      :label="AWAITED[activation.on]"
      :error="error"
      @update:model-value="emit('change', waitingFor(activation.on, String($event ?? '')))"
      @commit="emit('commit')"
    />
  </div>
</template>
