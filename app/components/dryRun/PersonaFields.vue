<script setup lang="ts">
import { PERSONA_NUMBERS, PERSONA_TEXTS, type PersonaDraft } from '~/data/personaDraft'

/** A made-up visitor, as it is typed. What is left empty is not known of them. */
defineProps<{ errors: Readonly<Record<string, string>> }>()
const draft = defineModel<PersonaDraft>({ required: true })
const DEVICES = [
  { value: '' as const, label: 'not known' },
  ...(['phone', 'tablet', 'desktop', 'other'] as const).map((value) => ({ value, label: value })),
]
const LINES = [
  { field: 'attributes', label: 'Attributes', hint: 'One a line: plan = gold, seats = 4, member = yes.' },
  { field: 'cookies', label: 'Cookies', hint: 'One a line: loyal = 1.' },
  { field: 'data', label: 'The page’s data', hint: 'One a line: basket.total = 84.5.' },
  { field: 'pages', label: 'Pages seen before', hint: 'Page and days ago: /book = 2.' },
  { field: 'events', label: 'Events done before', hint: 'Event and days ago: order = 12.' },
] as const
</script>

<template>
  <div class="flex flex-col gap-4">
    <div class="grid grid-cols-2 gap-3">
      <ChoiceField v-model="draft.device" label="Device" :choices="DEVICES" :error="errors.device" />
      <TextField
        v-for="(label, name) in PERSONA_TEXTS"
        :key="name"
        v-model="draft.texts[name]"
        :label="label"
        :error="errors[name]"
      />
      <TextField
        v-for="(label, name) in PERSONA_NUMBERS"
        :key="name"
        v-model="draft.numbers[name]"
        :label="label"
        numeric
        :error="errors[name]"
      />
    </div>
    <LabeledField
      v-for="{ field, label, hint } in LINES"
      :key="field"
      v-slot="{ id, describedBy, invalid }"
      :label="label"
      :hint="hint"
      :error="errors[field]"
    >
      <textarea
        :id="id"
        v-model="draft[field]"
        class="field font-mono text-sm"
        rows="2"
        :aria-describedby="describedBy"
        :aria-invalid="invalid"
      />
    </LabeledField>
  </div>
</template>
