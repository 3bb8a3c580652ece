<script setup lang="ts">
import type { Edit } from '~~/core/edits/content'
import { editName } from '~~/core/edits/edit'

/** What a variant or a level changes, each edit with a way to take it out. */
defineProps<{ edits: readonly Edit[] }>()
const emit = defineEmits<{ remove: [edit: Edit] }>()
</script>

<template>
  <ul class="flex flex-col gap-2">
    <li v-for="edit in edits" :key="edit.id" class="flex items-start gap-2">
      <EditSummary class="flex-1" :edit="edit" />
      <BaseButton kind="quiet" :aria-label="`Remove: ${editName(edit)}`" @click="emit('remove', edit)"
        >Remove</BaseButton
      >
    </li>
  </ul>
</template>
