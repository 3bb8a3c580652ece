<script setup lang="ts">
import { readSegment, type DimensionValues } from '~~/shared/traffic'
import type { Filter } from '~/composables/useFilter'

/** One bar for the days and the visitors that a view is about. Whoever uses it keeps both in the address. */
const props = defineProps<{
  filter: Filter
  /** Days back from today; null where two days are given. */
  daysBack: number | null
  dimensions: readonly DimensionValues[]
}>()
const emit = defineEmits<{
  change: [changes: { days?: number; from?: string; to?: string; segment?: string | null }]
}>()
const RANGES = [7, 28, 90]
const OWN = 'own'
const choices = computed(() => [
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
const segment = computed({
  get: () => props.filter.segment ?? '',
  set: (value: string) => emit('change', { segment: value || null }),
})
/** A shared link may name a value that is not among the usual ones. */
const isUnusual = computed(() => {
  const chosen = props.filter.segment ? readSegment(props.filter.segment) : null
  return chosen &&
    !props.dimensions.some((each) => each.dimension === chosen.dimension && each.values.includes(chosen.value))
    ? chosen
    : null
})
</script>

<template>
  <div class="flex flex-wrap items-end gap-x-4 gap-y-3" role="group" aria-label="Days and visitors">
    <ButtonRow v-model="range" label="Days" :choices="choices" />
    <template v-if="range === OWN">
      <TextField v-model="draft.from" class="w-40" label="First day" type="date" @commit="commit" />
      <TextField v-model="draft.to" class="w-40" label="Last day" type="date" :error="problem" @commit="commit" />
    </template>
    <LabeledField v-slot="{ id }" class="w-52" label="Visitors">
      <select :id="id" v-model="segment" class="field">
        <option value="">everybody</option>
        <option v-if="isUnusual" :value="filter.segment">{{ isUnusual.value }}</option>
        <optgroup v-for="each in dimensions" :key="each.dimension" :label="segmentName(each.dimension)">
          <option v-for="value in each.values" :key="value" :value="`${each.dimension}:${value}`">{{ value }}</option>
        </optgroup>
      </select>
    </LabeledField>
  </div>
</template>
