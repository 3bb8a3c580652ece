<script setup lang="ts">
import type { MetricSource } from '~~/core/measurement/metric'
import type { SheetMetric } from '~~/core/sheet/content'

withDefaults(defineProps<{ state: (field: keyof SheetMetric) => FieldState; hasRole?: boolean }>(), {
  hasRole: true,
})
const emit = defineEmits<{ commit: [] }>()
const metric = defineModel<SheetMetric>({ required: true })

const KINDS: { value: SheetMetric['kind']; label: string }[] = [
  { value: 'conversion', label: 'Yes or no, once per visitor' },
  { value: 'mean', label: 'Sum of amounts, per visitor' },
  { value: 'ratio', label: 'Ratio of two sums' },
]
const limit = computed({
  get: () => metric.value.limit ?? 0.02,
  set: (share: number | string | null) => void ((metric.value as { limit: unknown }).limit = share),
})
/** An amount is summed up, anything else happens or not. */
function followSource(type: MetricSource['type']): void {
  if (metric.value.kind === 'ratio') return
  metric.value.kind = SUMMED.includes(type) ? 'mean' : 'conversion'
  if (metric.value.kind === 'conversion') metric.value.cap = null
}
const SUMMED: readonly MetricSource['type'][] = ['pageAmount', 'timeInView', 'visits', 'visitTime', 'error']
/** An empty field is no limit; what is no number is kept and told. */
const optionalNumber = (name: 'cap' | 'windowDays') =>
  computed({
    get: () => metric.value[name] ?? '',
    set: (typed: string | number | null) => {
      const text = String(typed ?? '').trim()
      const number = Number(text)
      ;(metric.value as Record<typeof name, unknown>)[name] = text === '' ? null : Number.isNaN(number) ? text : number
    },
  })
const cap = optionalNumber('cap')
const windowDays = optionalNumber('windowDays')
function followKind(): void {
  metric.value.denominator =
    metric.value.kind === 'ratio'
      ? (metric.value.denominator ?? { type: 'visit', page: { match: 'exact', value: '' } })
      : null
  if (metric.value.kind === 'conversion') metric.value.cap = null
  emit('commit')
}
function followRole(): void {
  metric.value.limit = metric.value.role === 'guardrail' ? limit.value : null
  emit('commit')
}
</script>

<template>
  <div class="grid max-w-2xl gap-x-4 gap-y-4 sm:grid-cols-2">
    <TextField
      v-model="metric.name"
      label="Name"
      placeholder="Bookings"
      :state="state('name')"
      @commit="emit('commit')"
    />
    <ChoiceField
      v-if="hasRole && metric.role !== 'primary'"
      v-model="metric.role"
      label="Role"
      :choices="[
        { value: 'secondary', label: 'secondary: explains' },
        { value: 'guardrail', label: 'guardrail: must not get worse' },
      ]"
      :state="state('role')"
      @commit="followRole"
    />
    <MetricSourceFields
      v-model="metric.source"
      label="Counts"
      :state="state('source')"
      @kind="followSource"
      @commit="emit('commit')"
    />
    <ChoiceField
      v-model="metric.kind"
      label="A visitor’s value"
      :choices="KINDS"
      :state="state('kind')"
      @commit="followKind"
    />
    <MetricSourceFields
      v-if="metric.denominator"
      v-model="metric.denominator"
      label="Divided by"
      :state="state('denominator')"
      @commit="emit('commit')"
    />
    <TextField
      v-if="metric.kind !== 'conversion'"
      v-model="cap"
      label="Cap per visitor"
      hint="Larger values count as the cap. Empty: no cap."
      numeric
      :state="state('cap')"
      @commit="emit('commit')"
    />
    <TextField
      v-model="windowDays"
      label="Observation window, in days"
      hint="Each visitor is measured for so long, and counts once it is over. Empty: until the experiment ends."
      numeric
      :state="state('windowDays')"
      @commit="emit('commit')"
    />
    <ChoiceField
      v-model="metric.direction"
      label="Better is"
      :choices="[
        { value: 'up', label: 'more' },
        { value: 'down', label: 'less' },
      ]"
      :state="state('direction')"
      @commit="emit('commit')"
    />
    <PercentField
      v-if="metric.role === 'guardrail'"
      v-model="limit"
      label="Harm from"
      hint="Relative change to the worse that is not accepted."
      :state="state('limit')"
      @commit="emit('commit')"
    />
  </div>
</template>
