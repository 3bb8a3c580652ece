<script setup lang="ts">
import { describeSource, type MetricSource } from '~~/core/measurement/metric'
import type { PageMatch } from '~~/core/targeting/pageRule'
import type { ExperimentPatch } from '~~/shared/experiment'

defineProps<{ disabled: boolean }>()
type Metric = NonNullable<ExperimentPatch['metric']>
type SourceType = MetricSource['type']

const EMPTY: Metric = { name: '', kind: 'conversion', direction: 'up', source: { type: 'visit', page: { match: 'exact', value: '' } } }
const store = useSheetStore()
const { draft, errors, commit } = useSectionDraft(['metric'], (sheet) => ({ metric: sheet.metric ? { name: sheet.metric.name, kind: sheet.metric.kind, direction: sheet.metric.direction, source: sheet.metric.source } : EMPTY }))
const metric = computed(() => draft.value.metric!)

const SOURCES: { value: SourceType; label: string }[] = [
  { value: 'visit', label: 'a visited address' },
  { value: 'click', label: 'a click on an element' },
  { value: 'submit', label: 'a submitted form' },
  { value: 'pageAmount', label: 'an amount on a page' },
  { value: 'event', label: 'an event from the page’s code' },
]
const MATCHES: { value: PageMatch; label: string }[] = [
  { value: 'exact', label: 'is' },
  { value: 'begins', label: 'begins with' },
  { value: 'contains', label: 'contains' },
]
const type = computed({
  get: () => metric.value.source.type,
  set: (next: SourceType) => {
    draft.value.metric = { ...metric.value, kind: next === 'pageAmount' ? 'mean' : 'conversion', source: emptySource(next) }
  },
})
/** What was typed for one kind of source is of use for the next. */
function emptySource(next: SourceType): MetricSource {
  const { source } = metric.value
  const page = 'page' in source ? source.page : { match: 'exact' as const, value: '' }
  const selector = 'selector' in source ? source.selector : ''
  if (next === 'visit') return { type: next, page }
  if (next === 'pageAmount') return { type: next, page, selector }
  if (next === 'event') return { type: next, name: '' }
  return { type: next, selector }
}
/** Saved once everything is there; until then an empty field is no mistake. */
function commitWhenComplete(): void {
  const { name, source } = metric.value
  const isComplete = name && (!('page' in source) || source.page.value) && (!('selector' in source) || source.selector) && (source.type !== 'event' || source.name)
  if (isComplete || store.sheet?.metric) void commit()
}
</script>

<template>
  <SheetSection name="measured" title="Measured by" note="The primary metric: one value a visitor, from the first exposure on.">
    <div class="grid max-w-2xl gap-x-4 gap-y-4 sm:grid-cols-2">
      <TextField v-model="metric.name" label="Name" placeholder="Bookings" :disabled="disabled" :error="errors['metric.name']" @commit="commitWhenComplete" />
      <ChoiceField v-model="type" label="Counts" :choices="SOURCES" :disabled="disabled" @commit="commitWhenComplete" />
      <template v-if="'page' in metric.source">
        <ChoiceField v-model="metric.source.page.match" label="Address" :choices="MATCHES" :disabled="disabled" @commit="commitWhenComplete" />
        <TextField v-model="metric.source.page.value" label="Path" placeholder="/book/done" :disabled="disabled" :error="errors['metric.source.page.value']" @commit="commitWhenComplete" />
      </template>
      <TextField v-if="'selector' in metric.source" v-model="metric.source.selector" label="Element (CSS selector)" placeholder="#book" :disabled="disabled" :error="errors['metric.source.selector']" @commit="commitWhenComplete" />
      <TextField v-if="'name' in metric.source" v-model="metric.source.name" label="Name of the event" placeholder="order" :disabled="disabled" :error="errors['metric.source.name']" @commit="commitWhenComplete" />
      <ChoiceField v-model="metric.kind" label="A visitor’s value" :choices="[{ value: 'conversion', label: '1 if it happened, else 0' }, { value: 'mean', label: 'the sum of the amounts' }]" :disabled="disabled" @commit="commitWhenComplete" />
      <ChoiceField v-model="metric.direction" label="Better is" :choices="[{ value: 'up', label: 'more' }, { value: 'down', label: 'less' }]" :disabled="disabled" @commit="commitWhenComplete" />
    </div>
    <p class="mt-3 text-sm text-ink-soft">{{ store.sheet?.metric ? `Saved: ${describeSource(store.sheet.metric.source)}.` : 'Not saved yet: fill in every field.' }}</p>
  </SheetSection>
</template>
