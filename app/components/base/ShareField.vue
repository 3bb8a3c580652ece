<script setup lang="ts">
import { BUCKETS } from '~~/core/assignment/assignment'
import type { FieldState } from '~/composables/useSheetThing'

/** A share of the visitors, in percent and by a slider. */
defineProps<{ label: string; hint?: string; error?: string; state?: FieldState }>()
const emit = defineEmits<{ commit: [] }>()
/** Of 10,000 buckets; what cannot be read as a number as it was typed. */
const share = defineModel<number | string>({ required: true })
const percent = computed({
  get: () => (typeof share.value === 'number' ? share.value / BUCKETS : share.value),
  set: (value: number | string | null) => {
    share.value = typeof value === 'number' ? Number((value * BUCKETS).toFixed(6)) : (value ?? '')
  },
})
const slider = computed({
  get: () => (typeof percent.value === 'number' ? Math.round(percent.value * 100) : 0),
  set: (value: number) => (percent.value = value / 100),
})
</script>

<template>
  <div class="flex flex-col gap-1">
    <PercentField
      v-model="percent"
      class="w-40"
      :label="label"
      :hint="hint"
      :error="error"
      :state="state"
      @commit="emit('commit')"
    />
    <input
      v-model.number="slider"
      class="h-6 w-40 accent-accent"
      type="range"
      min="0"
      max="100"
      aria-label="Share by slider"
      @change="emit('commit')"
    />
  </div>
</template>
