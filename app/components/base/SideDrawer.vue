<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { XMarkIcon } from '@heroicons/vue/20/solid'

/** A panel at the right edge, for details of one thing while its list stays where it is. Closes with Escape. */
defineProps<{ title: string; /** For what is written in it. */ isWide?: boolean }>()
const open = defineModel<boolean>('open', { required: true })
</script>

<template>
  <Dialog :open="open" class="relative z-40" @close="open = false">
    <div class="fixed inset-0 bg-ink/25" aria-hidden="true" />
    <DialogPanel
      class="fixed inset-y-0 right-0 flex w-full flex-col overflow-y-auto border-l border-line-strong bg-raised p-5"
      :class="isWide ? 'max-w-3xl' : 'max-w-md'"
    >
      <div class="mb-4 flex items-start gap-3">
        <DialogTitle class="min-w-0 flex-1 text-lg font-semibold break-words">{{ title }}</DialogTitle>
        <button type="button" class="rounded p-1 text-ink-soft hover:text-ink" aria-label="Close" @click="open = false">
          <XMarkIcon class="size-5" aria-hidden="true" />
        </button>
      </div>
      <slot />
    </DialogPanel>
  </Dialog>
</template>
