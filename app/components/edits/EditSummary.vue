<script setup lang="ts">
import type { Edit } from '~~/core/edits/content'
import { describeElement, shortened } from '~~/core/edits/element'
import { editName } from '~~/core/edits/edit'
import { describeWidths } from '~~/core/edits/widths'

/** What an edit does: of a text the old words and the new ones, of anything else its sentence. */
defineProps<{ edit: Edit }>()
</script>

<template>
  <div class="min-w-0" :class="{ 'opacity-60': edit.isOff }">
    <template v-if="edit.kind === 'text' && !edit.title">
      <p class="line-clamp-2 text-ink-soft line-through decoration-line-strong">{{ shortened(edit.original, 160) }}</p>
      <p class="line-clamp-3 break-words">{{ edit.value }}</p>
      <p class="text-sm text-ink-soft">in {{ describeElement(edit) }}</p>
    </template>
    <p v-else class="line-clamp-3 break-words">{{ editName(edit) }}</p>
    <p v-if="edit.isOff" class="text-sm">Switched off</p>
    <p v-if="edit.widths" class="text-sm text-ink-soft">only in windows {{ describeWidths(edit.widths) }}</p>
    <p v-if="edit.page" class="text-sm text-ink-soft">only on {{ edit.page.value }}</p>
  </div>
</template>
