<script setup lang="ts" generic="Row">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import type { TableColumn } from '~/data/tableColumn'

/** Which columns a table shows. */
defineProps<{ columns: readonly TableColumn<Row>[]; label: string }>()
const visibility = defineModel<Record<string, boolean>>({ required: true })
const choose = (id: string, isShown: boolean) => (visibility.value = { ...visibility.value, [id]: isShown })
</script>

<template>
  <Popover class="relative">
    <PopoverButton
      class="rounded px-3 py-1.5 font-medium text-ink-soft hover:text-ink hover:underline"
      :aria-label="`Choose columns: ${label}`"
      >Columns</PopoverButton
    >
    <PopoverPanel
      class="absolute right-0 z-20 mt-1 flex w-56 flex-col gap-1.5 rounded border border-line-strong bg-raised p-3"
    >
      <label v-for="column in columns.filter(({ isHeading }) => !isHeading)" :key="column.id" class="flex gap-2">
        <input
          type="checkbox"
          class="accent-accent"
          :checked="visibility[column.id] !== false"
          @change="choose(column.id, ($event.target as HTMLInputElement).checked)"
        />
        {{ column.header }}
      </label>
    </PopoverPanel>
  </Popover>
</template>
