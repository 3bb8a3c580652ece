<script setup lang="ts">
import { newMoment } from '~/data/surveyDraft'
import type { Moment } from '~~/core/survey/survey'

/** When a survey shows itself on a page. */
defineProps<{ error?: string }>()
const moment = defineModel<Moment>({ required: true })
const KINDS: readonly { value: Moment['kind']; label: string }[] = [
  { value: 'seconds', label: 'after some seconds' },
  { value: 'leaving', label: 'on leaving' },
  { value: 'depth', label: 'at a scroll depth' },
  { value: 'event', label: 'after an event' },
]
/** The number as it is being typed: one with a dot at its end, or none at all, stays as it is. */
const numberOf = (of: Moment) => (of.kind === 'seconds' ? of.seconds : of.kind === 'depth' ? of.percent : '')
const typed = ref(String(numberOf(moment.value)))
const read = (text: string) => {
  const cleaned = text.trim().replace(',', '.')
  return cleaned === '' || Number.isNaN(Number(cleaned)) ? text : Number(cleaned)
}
watch(moment, (value) => {
  if (read(typed.value) !== numberOf(value)) typed.value = String(numberOf(value))
})
watch(typed, (text) => {
  const value = moment.value
  // What is no number is passed on as it was typed: the server says at its field what is wrong.
  if (value.kind === 'seconds') moment.value = { ...value, seconds: read(text) as number }
  if (value.kind === 'depth') moment.value = { ...value, percent: read(text) as number }
})
</script>

<template>
  <div class="flex flex-wrap items-start gap-x-4 gap-y-3">
    <ChoiceField
      :model-value="moment.kind"
      class="w-48"
      label="Shown"
      :choices="KINDS"
      @update:model-value="moment = newMoment($event)"
    />
    <TextField
      v-if="moment.kind === 'seconds'"
      v-model="typed"
      class="w-36"
      label="Seconds on the page"
      numeric
      unit="s"
      :error="error"
    />
    <TextField
      v-else-if="moment.kind === 'depth'"
      v-model="typed"
      class="w-36"
      label="Of the page"
      numeric
      unit="%"
      :error="error"
    />
    <TextField
      v-else-if="moment.kind === 'event'"
      class="w-56"
      label="Name of the event"
      hint="As the page pushes it onto window.vetch."
      :model-value="moment.name"
      :error="error"
      @update:model-value="moment = { kind: 'event', name: String($event ?? '') }"
    />
  </div>
</template>
