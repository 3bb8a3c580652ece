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
const asNumber = (typed: unknown) =>
  typed === '' || typed === null ? Number.NaN : Number(String(typed).replace(',', '.'))
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
      class="w-36"
      label="Seconds on the page"
      numeric
      unit="s"
      :model-value="moment.seconds"
      :error="error"
      @update:model-value="moment = { kind: 'seconds', seconds: asNumber($event) }"
    />
    <TextField
      v-else-if="moment.kind === 'depth'"
      class="w-36"
      label="Of the page"
      numeric
      unit="%"
      :model-value="moment.percent"
      :error="error"
      @update:model-value="moment = { kind: 'depth', percent: asNumber($event) }"
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
