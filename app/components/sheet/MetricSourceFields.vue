<script setup lang="ts">
import type { MetricSource } from '~~/core/measurement/metric'
import type { Fields } from '~~/core/sheet/change'
import { sourceInWords } from '~~/core/sheet/describeChange'
import type { PageMatch } from '~~/core/targeting/pageRule'

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
const MATCHES: { value: PageMatch; label: string }[] = [
  { value: 'exact', label: 'is' },
  { value: 'begins', label: 'begins with' },
  { value: 'contains', label: 'contains' },
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
type Where = PageMatch | 'everywhere'
const where = computed({
  get: (): Where => ('page' in source.value && source.value.page ? source.value.page.match : 'everywhere'),
  set: (match: Where) => {
    const { page, ...rest } = source.value as Extract<MetricSource, { type: 'engagement' }>
    source.value =
      match === 'everywhere' ? rest : ({ ...rest, page: { match, value: page?.value ?? '' } } as MetricSource)
  },
})
const WHERE = computed((): { value: Where; label: string }[] => [
  { value: 'everywhere', label: source.value.type === 'engagement' ? 'the tested pages' : 'all pages' },
  ...MATCHES.map(({ value, label }) => ({ value, label: `pages whose address ${label}` })),
])
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
  const page = named ?? { match: 'exact' as const, value: '' }
  const selector = 'selector' in source.value ? source.value.selector : ''
  if (next === 'visit') return { type: next, page }
  if (next === 'pageAmount') return { type: next, page, selector, reference: null }
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
  <template v-if="source.type === 'visit' || source.type === 'pageAmount'">
    <ChoiceField v-model="source.page.match" label="Address" :choices="MATCHES" @commit="emit('commit')" />
    <TextField
      v-model="source.page.value"
      label="Path"
      placeholder="/book/done"
      :error="errorOf('page.value')"
      @commit="emit('commit')"
    />
  </template>
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
  <TextField
    v-if="source.type === 'return'"
    v-model="source.days"
    label="Within"
    unit="days"
    numeric
    :error="errorOf('days')"
    @commit="emit('commit')"
  />
  <template v-if="MAY_NAME_PAGES.includes(source.type)">
    <ChoiceField v-model="where" label="On" :choices="WHERE" @commit="emit('commit')" />
    <TextField
      v-if="'page' in source && source.page"
      v-model="source.page.value"
      label="Address"
      placeholder="/crossings/"
      :error="errorOf('page.value')"
      @commit="emit('commit')"
    />
  </template>
</template>
