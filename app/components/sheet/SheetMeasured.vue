<script setup lang="ts">
import type { MetricSource } from '~~/core/measurement/metric'
import { describeMetric } from '~/explanations/explanations'
import { MOST_METRICS, type MetricInput, type MetricView } from '~~/shared/experiment'

defineProps<{ disabled: boolean; mayAdd: boolean }>()
const store = useSheetStore()
const notices = useNoticesStore()
const EMPTY: MetricInput = {
  name: '',
  kind: 'conversion',
  direction: 'up',
  source: { type: 'visit', page: { match: 'exact', value: '' } },
  denominator: null,
  role: 'primary',
  limit: null,
}
const { draft, errors, commit } = useSectionDraft(['metrics'], (sheet) => ({
  metrics:
    sheet.metrics.length > 0
      ? sheet.metrics.map(({ id, name, kind, source, denominator, direction, role, limit }) => ({
          id,
          name,
          kind,
          source,
          denominator,
          direction,
          role,
          limit,
        }))
      : [EMPTY],
}))
const metrics = computed(() => draft.value.metrics!)
/** One metric is edited at a time. */
const opened = ref(0)
const ROLES = { primary: 'primary', secondary: 'secondary', guardrail: 'guardrail' } as const

/** Saved once everything is there; until then an empty field is no mistake. */
function commitWhenComplete(): void {
  if (metrics.value.every(isComplete) || (store.sheet?.metrics.length ?? 0) >= metrics.value.length) void commit()
}
function isComplete({ name, source, denominator }: MetricInput): boolean {
  return name !== '' && isFilled(source) && (denominator === null || isFilled(denominator))
}
function isFilled(source: MetricSource): boolean {
  return (
    (!('page' in source) || source.page.value !== '') &&
    (!('selector' in source) || source.selector !== '') &&
    (source.type !== 'pageAmount' || !Object.values(source.reference ?? {}).includes('')) &&
    (source.type !== 'event' || source.name !== '')
  )
}
function add(): void {
  metrics.value.push({ ...JSON.parse(JSON.stringify(EMPTY)), role: 'secondary' } as MetricInput)
  opened.value = metrics.value.length - 1
}
function remove(index: number): void {
  const [removed] = metrics.value.splice(index, 1)
  opened.value = 0
  commitWhenComplete()
  notices.show(`Removed ${removed!.name || 'the metric'}.`, {
    undo: async () => {
      metrics.value.splice(index, 0, removed!)
      commitWhenComplete()
    },
  })
}
const describe = (metric: MetricInput) =>
  isComplete(metric) ? `Counts ${describeMetric(metric as MetricView)}` : 'Not saved yet: fill in every field.'
</script>

<template>
  <SheetSection
    name="measured"
    title="Measured by"
    note="Each metric is one value a visitor, from the first exposure on."
  >
    <template #action
      ><BaseButton
        v-if="!disabled && metrics.length < MOST_METRICS && metrics.every(isComplete)"
        kind="quiet"
        @click="add"
        >Add a metric</BaseButton
      ></template
    >
    <ol class="flex flex-col">
      <li v-for="(metric, index) in metrics" :key="index" class="border-b border-line py-3 first:pt-0 last:border-b-0">
        <div class="flex items-baseline gap-3">
          <button
            type="button"
            class="min-w-0 flex-1 text-left"
            :aria-expanded="opened === index"
            @click="opened = opened === index ? -1 : index"
          >
            <span aria-hidden="true" class="mr-1 text-ink-soft">{{ opened === index ? '▾' : '▸' }}</span>
            <span class="font-medium">{{ metric.name || 'New metric' }}</span>
            <span class="text-sm text-ink-soft">, {{ ROLES[metric.role] }}</span>
            <span v-if="opened !== index" class="block pl-4 text-sm text-ink-soft">{{ describe(metric) }}</span>
          </button>
          <BaseButton
            v-if="!disabled && metric.role !== 'primary'"
            kind="quiet"
            :aria-label="`Remove ${metric.name || 'the new metric'}`"
            @click="remove(index)"
            >Remove</BaseButton
          >
        </div>
        <div v-if="opened === index" class="mt-3">
          <MetricFields
            v-model="metrics[index]!"
            :disabled="disabled"
            :errors="errors"
            :path="`metrics[${index}]`"
            @commit="commitWhenComplete"
          />
          <p class="mt-3 text-sm text-ink-soft">{{ describe(metric) }}</p>
        </div>
      </li>
    </ol>
    <AddedMetric v-if="mayAdd" class="mt-3" />
  </SheetSection>
</template>
