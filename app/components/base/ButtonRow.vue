<script setup lang="ts" generic="Value extends string">
import { RadioGroup, RadioGroupOption } from '@headlessui/vue'

/** One of a few, all of them in sight. */
defineProps<{
  label: string
  choices: readonly { value: Value; label: string; /** Beside the label, in a word. */ note?: string }[]
}>()
const chosen = defineModel<Value>({ required: true })
</script>

<template>
  <RadioGroup
    v-model="chosen"
    class="flex w-fit max-w-full flex-wrap overflow-hidden rounded border border-line-strong text-sm"
    :aria-label="label"
  >
    <RadioGroupOption v-for="each in choices" :key="each.value" v-slot="{ checked }" :value="each.value" as="template">
      <button
        type="button"
        class="border-r border-line-strong px-3 py-1 last:border-r-0"
        :class="checked ? 'bg-accent-soft font-medium text-accent' : 'text-ink-soft hover:text-ink'"
      >
        <slot name="choice" :value="each.value">{{ each.label }}</slot><span v-if="each.note" class="font-normal"
          >, {{ each.note }}</span
        >
      </button>
    </RadioGroupOption>
  </RadioGroup>
</template>
