<script setup lang="ts">
import { RadioGroup, RadioGroupOption } from '@headlessui/vue'
import { READING_METHODS, type ReadingMethod } from '~/composables/useReadingMethod'

const method = defineModel<ReadingMethod>({ required: true })
const hint = computed(() => READING_METHODS.find(({ value }) => value === method.value)!.hint)
</script>

<template>
  <div class="flex flex-wrap items-center gap-x-4 gap-y-1">
    <RadioGroup
      v-model="method"
      class="flex rounded border border-line-strong text-sm"
      aria-label="Read the results by"
    >
      <RadioGroupOption
        v-for="each in READING_METHODS"
        :key="each.value"
        v-slot="{ checked }"
        :value="each.value"
        as="template"
      >
        <button
          type="button"
          class="border-r border-line-strong px-3 py-1 last:border-r-0"
          :class="checked ? 'bg-accent-soft font-medium text-accent' : 'text-ink-soft hover:text-ink'"
        >
          {{ each.label }}
        </button>
      </RadioGroupOption>
    </RadioGroup>
    <p class="text-sm text-ink-soft">{{ hint }}</p>
  </div>
</template>
