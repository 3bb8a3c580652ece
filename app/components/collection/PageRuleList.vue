<script setup lang="ts">
import { pageRulesInWords, type PageMatch, type PageRule } from '~~/core/targeting/pageRule'

/** Pages, by rules on their addresses of which one has to fit. */
defineProps<{ error?: string }>()
const rules = defineModel<PageRule[]>({ required: true })
const MATCHES: { value: PageMatch; label: string }[] = [
  { value: 'exact', label: 'is' },
  { value: 'begins', label: 'begins with' },
  { value: 'contains', label: 'contains' },
]
const change = (index: number, changes: Partial<PageRule>) =>
  (rules.value = rules.value.map((rule, at) => (at === index ? { ...rule, ...changes } : rule)))
const remove = (index: number) => (rules.value = rules.value.filter((_, at) => at !== index))
const isEverywhere = computed(() => rules.value.some(({ match, value }) => match === 'begins' && value === '/'))
</script>

<template>
  <div class="flex flex-col gap-2">
    <div
      v-for="(rule, index) in rules"
      :key="index"
      class="grid max-w-2xl grid-cols-[8rem_1fr_auto] items-start gap-x-3 sm:grid-cols-[10rem_1fr_5rem]"
    >
      <ChoiceField
        :model-value="rule.match"
        label="Address"
        :choices="MATCHES"
        @update:model-value="change(index, { match: $event })"
      />
      <TextField
        :model-value="rule.value"
        label="Path"
        placeholder="/book"
        :error="index === 0 ? error : undefined"
        @update:model-value="change(index, { value: String($event ?? '') })"
      />
      <BaseButton
        v-if="rules.length > 1"
        class="mt-6"
        kind="quiet"
        :aria-label="`Remove the address ${rule.value}`"
        @click="remove(index)"
        >Remove</BaseButton
      >
    </div>
    <p class="text-sm text-ink-soft">
      {{ isEverywhere ? 'All pages.' : `Pages: ${pageRulesInWords(rules)}.` }}
      <button
        type="button"
        class="ml-2 text-accent underline"
        @click="rules = [...rules, { match: 'begins', value: '' }]"
      >
        Add an address
      </button>
    </p>
  </div>
</template>
