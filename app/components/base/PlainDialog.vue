<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'

defineProps<{ title: string; /** For pictures. */ isWide?: boolean }>()
const open = defineModel<boolean>('open', { required: true })
</script>

<template>
  <Dialog :open="open" class="relative z-40" @close="open = false">
    <div class="fixed inset-0 bg-ink/25" aria-hidden="true" />
    <div class="fixed inset-0 grid place-items-center overflow-y-auto p-4">
      <DialogPanel
        class="w-full rounded border border-line-strong bg-raised p-5"
        :class="isWide ? 'max-w-6xl' : 'max-w-lg'"
      >
        <DialogTitle class="mb-3 text-lg font-semibold">{{ title }}</DialogTitle>
        <slot />
        <div class="mt-5 flex justify-end gap-2"><slot name="actions" /></div>
      </DialogPanel>
    </div>
  </Dialog>
</template>
