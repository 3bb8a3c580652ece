<script setup lang="ts">
import { MARK_SIGNS, MARK_WORDS } from '~~/core/history/mark'
import type { MarkView } from '~~/shared/history/replies'
import { shortDay } from '~/charts/dayAxis'

/** One thing that happened; what is known around it opens below. */
defineProps<{ siteId: number; mark: MarkView; isChosen: boolean; mayEdit: boolean }>()
const emit = defineEmits<{ choose: []; change: []; remove: [] }>()
const id = useId()
</script>

<template>
  <li class="border-b border-line py-2" data-testid="mark">
    <div class="flex flex-wrap items-baseline gap-x-3">
      <span class="w-14 shrink-0 text-sm text-ink-soft">{{ shortDay(mark.day) }}</span>
      <span class="w-4 shrink-0 text-center" aria-hidden="true">{{ MARK_SIGNS[mark.kind] }}</span>
      <span class="min-w-0 flex-1 break-words">
        <span class="sr-only">{{ MARK_WORDS[mark.kind] }}: </span>
        <NuxtLink v-if="mark.path" :to="`/sites/${siteId}${mark.path}`" class="text-accent underline">{{
          mark.title
        }}</NuxtLink>
        {{ mark.words }}
        <span v-if="mark.person" class="text-sm text-ink-soft">{{ mark.person }}</span>
      </span>
      <template v-if="mayEdit && mark.noteId !== null">
        <BaseButton kind="quiet" :aria-label="`Change the note of ${mark.day}`" @click="emit('change')"
          >Change</BaseButton
        >
        <BaseButton kind="quiet" :aria-label="`Delete the note of ${mark.day}`" @click="emit('remove')"
          >Delete</BaseButton
        >
      </template>
      <BaseButton kind="quiet" :aria-expanded="isChosen" :aria-controls="id" @click="emit('choose')"
        >Before and after<span class="sr-only">: {{ mark.title || mark.words }}</span></BaseButton
      >
    </div>
    <div v-if="isChosen" :id="id" class="mt-1 ml-17"><slot /></div>
  </li>
</template>
