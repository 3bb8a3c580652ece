<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'

/** Filters that are not needed every time: behind a button that says how many are set. In narrow windows they open beneath it. */
defineProps<{ count: number }>()
</script>

<template>
  <Popover class="flex min-h-9.5 items-center max-xl:w-full max-xl:flex-col max-xl:items-start xl:relative">
    <PopoverButton
      class="rounded border px-3 py-1 text-sm font-medium whitespace-nowrap"
      :class="count > 0 ? 'border-accent text-accent' : 'border-line-strong text-ink-soft hover:text-ink'"
      >More filters{{ count > 0 ? ` (${count})` : '' }}</PopoverButton
    >
    <PopoverPanel
      class="mt-1 flex w-full max-w-104 flex-col gap-4 rounded border border-line-strong bg-raised p-4 xl:absolute xl:top-full xl:right-0 xl:z-30 xl:w-104"
    >
      <slot />
    </PopoverPanel>
  </Popover>
</template>
