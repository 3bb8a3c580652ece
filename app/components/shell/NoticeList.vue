<script setup lang="ts">
import type { Notice } from '~/stores/notices'

const store = useNoticesStore()
async function undo(notice: Notice): Promise<void> {
  store.dismiss(notice.id)
  await notice.undo?.()
}
</script>

<template>
  <ul class="fixed right-4 bottom-4 z-50 flex w-80 flex-col gap-2" aria-live="polite">
    <li
      v-for="notice in store.notices"
      :key="notice.id"
      class="flex items-start gap-3 rounded border bg-raised px-3 py-2"
      :class="notice.tone === 'problem' ? 'border-rust' : 'border-line-strong'"
    >
      <span class="flex-1">{{ notice.text }}</span>
      <button
        v-if="notice.undo"
        type="button"
        class="font-semibold text-accent"
        :aria-label="`Undo: ${notice.text}`"
        @click="undo(notice)"
      >
        Undo
      </button>
      <button type="button" class="text-ink-soft" aria-label="Dismiss" @click="store.dismiss(notice.id)">×</button>
    </li>
  </ul>
</template>
