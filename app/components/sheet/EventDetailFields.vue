<script setup lang="ts">
import type { DetailTest } from '~~/core/measurement/eventDetails'

/** What an event of the page's code must say to be counted; null for any. */
const props = defineProps<{ errors: Record<string, string> }>()
const emit = defineEmits<{ commit: [] }>()
const detail = defineModel<DetailTest | null>({ required: true })
const WORDS: Record<DetailTest['is'], string> = {
  known: 'is said',
  oneOf: 'is one of',
  least: 'is at least',
  most: 'is at most',
}
const which = computed({
  get: () => detail.value?.is ?? 'any',
  set: (is: DetailTest['is'] | 'any') => {
    const name = detail.value?.name ?? ''
    if (is === 'any') detail.value = null
    else if (is === 'known') detail.value = { name, is }
    else detail.value = is === 'oneOf' ? { name, is, texts: [] } : { name, is, number: null }
  },
})
const CHOICES = [
  { value: 'any' as const, label: 'whatever they say' },
  ...Object.entries(WORDS).map(([value, label]) => ({ value: value as DetailTest['is'], label: `a detail ${label}` })),
]
const name = computed({
  get: () => detail.value?.name ?? '',
  set: (typed) => (detail.value = { ...detail.value!, name: typed }),
})
/** As it is typed: a comma that nothing follows yet stays. */
const typed = ref(asText(detail.value))
watch(detail, (next) => {
  if (JSON.stringify(parsed(typed.value)) !== JSON.stringify(parsed(asText(next)))) typed.value = asText(next)
})
watch(typed, (text) => {
  if (detail.value && detail.value.is !== 'known') detail.value = { ...detail.value, ...parsed(text) }
})
function asText(test: DetailTest | null): string {
  return test?.is === 'oneOf' ? (test.texts ?? []).join(', ') : String(test?.number ?? '')
}
function parsed(text: string | number): Pick<DetailTest, 'texts' | 'number'> {
  const texts = String(text)
    .split(',')
    .map((each) => each.trim())
    .filter(Boolean)
  if (detail.value?.is === 'oneOf') return { texts }
  // What is no number is refused as it was typed.
  return { number: (text === '' ? null : Number.isNaN(Number(text)) ? text : Number(text)) as number | null }
}
const problem = computed(() => props.errors['detail.texts'] ?? props.errors['detail.number'])
</script>

<template>
  <ChoiceField v-model="which" label="Of these" :choices="CHOICES" @commit="emit('commit')" />
  <TextField
    v-if="detail"
    v-model="name"
    label="Detail"
    placeholder="vehicle"
    :error="errors['detail.name']"
    @commit="emit('commit')"
  />
  <TextField
    v-if="detail && detail.is !== 'known'"
    v-model="typed"
    :label="detail.is === 'oneOf' ? 'Any of' : 'Number'"
    :placeholder="detail.is === 'oneOf' ? 'car, van' : undefined"
    :numeric="detail.is !== 'oneOf'"
    :error="problem"
    @commit="emit('commit')"
  />
</template>
