<script setup lang="ts">
import type { Filter, FilterChange } from '~/composables/useFilter'

/** Which days a view is about: so many back from today, or from one to another. */
const props = defineProps<{
  filter: Filter
  /** Days back from today; null where two days are given. */
  daysBack: number | null
}>()
const emit = defineEmits<{ change: [changes: FilterChange] }>()
const RANGES = [7, 28, 90]
const OWN = 'own'
const choicesOfDays = computed(() => [
  ...RANGES.map((days) => ({ value: String(days), label: `${days} days` })),
  { value: OWN, label: 'From … to …' },
])
const range = computed({
  get: () => (props.daysBack !== null && RANGES.includes(props.daysBack) ? String(props.daysBack) : OWN),
  set: (value) =>
    emit('change', value === OWN ? { from: props.filter.from, to: props.filter.to } : { days: Number(value) }),
})
const draft = reactive({ from: props.filter.from, to: props.filter.to })
watch(
  () => props.filter,
  ({ from, to }) => Object.assign(draft, { from, to }),
)
const problem = computed(() => (draft.from > draft.to ? 'The last day lies before the first.' : undefined))
function commit(): void {
  if (draft.from && draft.to && !problem.value) emit('change', { from: draft.from, to: draft.to })
}
</script>

<template>
  <div class="flex flex-wrap items-end gap-x-5 gap-y-3">
    <div class="flex flex-col gap-1">
      <span class="text-sm font-medium">Days</span>
      <span class="flex min-h-9.5 items-center"
        ><ButtonRow v-model="range" label="Days" :choices="choicesOfDays"
      /></span>
    </div>
    <template v-if="range === OWN">
      <TextField v-model="draft.from" class="w-40" label="First day" type="date" @commit="commit" />
      <TextField v-model="draft.to" class="w-40" label="Last day" type="date" :error="problem" @commit="commit" />
    </template>
  </div>
</template>
