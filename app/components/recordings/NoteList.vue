<script setup lang="ts">
import type { RecordingNote } from '~~/shared/recordings/replies'
import { clockTime } from '~/data/durations'

/** Notes at moments of a recording, and the field for another one at the moment that is shown. */
const props = defineProps<{
  place: { site: number; visitor: string; visit: string }
  notes: readonly RecordingNote[]
  moment: number
  mayEdit: boolean
}>()
const emit = defineEmits<{ seek: [moment: number]; changed: [] }>()
const api = useApi()
const notices = useNoticesStore()
const words = ref('')
const error = ref<string>()

async function add(): Promise<void> {
  error.value = undefined
  try {
    await api('addRecordingNote', { ...props.place, body: { moment: props.moment, words: words.value } })
    words.value = ''
    emit('changed')
  } catch (problem) {
    if (!(problem instanceof ApiProblem)) throw problem
    error.value = problem.message
  }
}
async function remove({ id, moment, words: said }: RecordingNote): Promise<void> {
  await api('removeRecordingNote', { ...props.place, note: id })
  emit('changed')
  notices.show('Removed the note.', {
    undo: async () => {
      await api('addRecordingNote', { ...props.place, body: { moment, words: said } })
      emit('changed')
    },
  })
}
</script>

<template>
  <section aria-labelledby="notes" class="flex flex-col gap-3">
    <h2 id="notes">Notes</h2>
    <p v-if="notes.length === 0" class="text-ink-soft">None yet.</p>
    <ul v-else class="flex flex-col gap-2">
      <li v-for="note in notes" :key="note.id" class="border-b border-line pb-2">
        <button type="button" class="font-medium text-accent hover:underline" @click="emit('seek', note.moment)">
          {{ clockTime(note.moment) }}
        </button>
        <span class="ml-2 break-words whitespace-pre-line">{{ note.words }}</span>
        <span class="block text-sm text-ink-soft"
          >{{ note.person ?? 'A program' }}
          <button
            v-if="mayEdit"
            type="button"
            class="ml-2 underline"
            :aria-label="`Remove the note at ${clockTime(note.moment)}`"
            @click="remove(note)"
          >
            Remove
          </button></span
        >
      </li>
    </ul>
    <form v-if="mayEdit" class="flex flex-col gap-2" @submit.prevent="add">
      <LabeledField v-slot="{ id, invalid, describedBy }" :label="`At ${clockTime(moment)}`" :error="error">
        <textarea
          :id="id"
          v-model="words"
          class="field min-h-16"
          rows="2"
          placeholder="Note"
          :aria-invalid="invalid"
          :aria-describedby="describedBy"
        />
      </LabeledField>
      <div><BaseButton type="submit">Add the note</BaseButton></div>
    </form>
  </section>
</template>
