<script setup lang="ts">
import type { DetailTest } from '~~/core/measurement/eventDetails'
import type { MetricSource } from '~~/core/measurement/metric'
import type { Fields } from '~~/core/sheet/change'
import { sourceInWords } from '~~/core/sheet/describeChange'
import type { PageRule } from '~~/core/targeting/pageRule'

/** What is counted: the kind of event, and where. */
const props = defineProps<{ label: string; state: FieldState }>()
const emit = defineEmits<{ commit: []; kind: [type: MetricSource['type']] }>()
const source = defineModel<MetricSource>({ required: true })

const SOURCES: { value: MetricSource['type']; label: string }[] = [
  { value: 'visit', label: 'a visited address' },
  { value: 'click', label: 'a click on an element' },
  { value: 'submit', label: 'a submitted form' },
  { value: 'pageAmount', label: 'an amount on a page' },
  { value: 'event', label: 'an event from the page’s code' },
  { value: 'engagement', label: 'a link clicked or a form sent' },
  { value: 'timeInView', label: 'the time in view' },
  { value: 'error', label: 'an error of a page' },
  { value: 'visits', label: 'visits of the site' },
  { value: 'bounces', label: 'visits of a single page' },
  { value: 'visitTime', label: 'how long visits last' },
  { value: 'return', label: 'coming back' },
]
/** Sources that may be counted on some pages only. */
const MAY_NAME_PAGES: readonly MetricSource['type'][] = [
  'click',
  'submit',
  'event',
  'engagement',
  'timeInView',
  'error',
]
const where = computed({
  get: () => ('page' in source.value && source.value.page ? 'some' : 'everywhere'),
  set: (next: 'some' | 'everywhere') => {
    const { page: _, ...rest } = source.value as Extract<MetricSource, { type: 'engagement' }>
    const page: PageRule = { match: 'begins', value: '' }
    source.value = next === 'everywhere' ? rest : ({ ...rest, page } as MetricSource)
  },
})
const everywhere = computed(() => (source.value.type === 'engagement' ? 'the tested pages' : 'all pages'))
const page = computed(() => ('page' in source.value && source.value.page ? source.value.page : null))
const type = computed({
  get: () => source.value.type,
  set: (next: MetricSource['type']) => {
    source.value = sourceOf(next)
    emit('kind', next)
  },
})
/** What was typed for one kind of source is of use for the next. */
function sourceOf(next: MetricSource['type']): MetricSource {
  const named = 'page' in source.value ? source.value.page : null
  const chosen = named ?? { match: 'exact' as const, value: '' }
  const selector = 'selector' in source.value ? source.value.selector : ''
  if (next === 'visit') return { type: next, page: chosen }
  if (next === 'pageAmount') return { type: next, page: chosen, selector, reference: null }
  if (next === 'event') return { type: next, name: '' }
  if (next === 'return') return { type: next, days: 7 }
  return next === 'click' || next === 'submit' ? { type: next, selector } : { type: next }
}
/** Where the number of an order stands: nowhere, in a parameter of the address, or in an element. */
const referenceKind = computed({
  get: () => {
    const reference = source.value.type === 'pageAmount' ? source.value.reference : null
    return !reference ? 'none' : 'parameter' in reference ? 'parameter' : 'selector'
  },
  set: (kind: 'none' | 'parameter' | 'selector') => {
    if (source.value.type !== 'pageAmount') return
    source.value.reference = kind === 'none' ? null : kind === 'parameter' ? { parameter: '' } : { selector: '' }
  },
})
const REFERENCES: { value: 'none' | 'parameter' | 'selector'; label: string }[] = [
  { value: 'none', label: 'nowhere: by session, amount and address' },
  { value: 'parameter', label: 'in a parameter of the address' },
  { value: 'selector', label: 'in an element of the page' },
]
const detail = computed({
  get: () => (source.value.type === 'event' ? (source.value.detail ?? null) : null),
  set: (next: DetailTest | null) => {
    if (source.value.type === 'event') source.value = { ...source.value, detail: next }
  },
})
const errorOf = (field: string) => props.state.errors[field]
const inWords = (value: unknown) => (value ? sourceInWords(value as Fields) : '')
</script>

<template>
  <ChoiceField
    v-model="type"
    :label="label"
    :choices="SOURCES"
    :state="state"
    :show="inWords"
    @commit="emit('commit')"
  />
  <TextField
    v-if="'selector' in source"
    v-model="source.selector"
    label="Element (CSS selector)"
    placeholder="#book"
    :error="errorOf('selector')"
    @commit="emit('commit')"
  />
  <template v-if="source.type === 'pageAmount'">
    <ChoiceField v-model="referenceKind" label="Order number" :choices="REFERENCES" @commit="emit('commit')" />
    <TextField
      v-if="source.reference && 'parameter' in source.reference"
      v-model="source.reference.parameter"
      label="Parameter"
      placeholder="ref"
      :error="errorOf('reference.parameter')"
      @commit="emit('commit')"
    />
    <TextField
      v-if="source.reference && 'selector' in source.reference"
      v-model="source.reference.selector"
      label="Element with the number"
      placeholder="#order-number"
      :error="errorOf('reference.selector')"
      @commit="emit('commit')"
    />
  </template>
  <TextField
    v-if="'name' in source"
    v-model="source.name"
    label="Name of the event"
    placeholder="order"
    :error="errorOf('name')"
    @commit="emit('commit')"
  />
  <EventDetailFields v-if="source.type === 'event'" v-model="detail" :errors="state.errors" @commit="emit('commit')" />
  <TextField
    v-if="source.type === 'return'"
    v-model="source.days"
    label="Within"
    unit="days"
    numeric
    :error="errorOf('days')"
    @commit="emit('commit')"
  />
  <ChoiceField
    v-if="MAY_NAME_PAGES.includes(source.type)"
    v-model="where"
    label="On"
    :choices="[
      { value: 'everywhere', label: everywhere },
      { value: 'some', label: 'some pages' },
    ]"
    @commit="emit('commit')"
  />
  <PageRuleFields
    v-if="page"
    class="sm:col-span-2"
    :rule="page"
    :error="errorOf('page.value') ?? errorOf('page.parameter')"
    @change="Object.assign(page, $event)"
    @commit="emit('commit')"
  />
</template>
