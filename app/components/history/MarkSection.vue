<script setup lang="ts">
import type { AroundDay } from '~~/core/history/aroundDay'
import { MARK_KINDS, MARK_WORDS, type MarkKind } from '~~/core/history/mark'
import type { MarkView } from '~~/shared/history/replies'

/** What happened within the days of a chart. One of it can be chosen, to see how the measure stood around it. */
const props = defineProps<{
  siteId: number
  marks: readonly MarkView[]
  /** Of the mark that is chosen, by the lines of the chart; null where its days are too few. */
  arounds: readonly { line: string | null; around: AroundDay | null }[]
  /** What is measured, and how it is written. */
  measure: string
  format: (value: number) => string
  mayEdit: boolean
}>()
/** Key of the chosen mark; empty for none. */
const chosen = defineModel<string>('chosen', { required: true })
const emit = defineEmits<{ changed: [] }>()
const api = useApi()
const notices = useNoticesStore()
/** Of one kind alone; all where it is empty. */
const kind = useQueryChoice<MarkKind | ''>('kind', () => ['', ...MARK_KINDS])
const shown = computed(() => props.marks.filter((mark) => kind.value === '' || mark.kind === kind.value).toReversed())
const kinds = computed(() => [
  { value: '' as const, label: 'everything' },
  ...MARK_KINDS.filter((each) => each === kind.value || props.marks.some((mark) => mark.kind === each)).map(
    (value) => ({
      value,
      label: MARK_WORDS[value],
    }),
  ),
])
/** The note that is written: 0 is a new one. */
const writing = ref<number | null>(null)

const { save } = useSaving()
async function remove({ noteId, day, words }: MarkView): Promise<void> {
  const isDeleted = await save(async () => {
    await api('deleteDayNote', { site: props.siteId, dayNote: noteId! })
  })
  // Where somebody else was faster, the list is read anew, too.
  emit('changed')
  if (!isDeleted) return
  notices.show('Deleted the note.', {
    async undo() {
      await save(async () => {
        await api('addDayNote', { site: props.siteId, body: { day, words } })
      })
      emit('changed')
    },
  })
}
function finish(isChanged: boolean): void {
  writing.value = null
  if (isChanged) emit('changed')
}
</script>

<template>
  <section aria-labelledby="what-happened" class="mt-6">
    <div class="mb-2 flex flex-wrap items-end gap-x-4 gap-y-2">
      <h2 id="what-happened" class="mr-auto">What happened</h2>
      <ChoiceField v-model="kind" class="w-52" label="Kind" :choices="kinds" />
      <BaseButton v-if="mayEdit && writing === null" kind="quiet" @click="writing = 0">Add a note …</BaseButton>
    </div>
    <DayNoteForm v-if="writing === 0" :site-id="siteId" :note="null" @done="finish" />
    <p v-if="shown.length === 0" class="text-ink-soft">Nothing is known of these days.</p>
    <ol v-else class="border-t border-line">
      <template v-for="mark in shown" :key="mark.key">
        <li v-if="mark.noteId !== null && writing === mark.noteId" class="border-b border-line py-2">
          <DayNoteForm :site-id="siteId" :note="{ id: mark.noteId, day: mark.day, words: mark.words }" @done="finish" />
        </li>
        <MarkRow
          v-else
          :site-id="siteId"
          :mark="mark"
          :is-chosen="chosen === mark.key"
          :may-edit="mayEdit"
          @choose="chosen = chosen === mark.key ? '' : mark.key"
          @change="writing = mark.noteId"
          @remove="remove(mark)"
        >
          <AroundMark :arounds="arounds" :measure="measure" :format="format" />
        </MarkRow>
      </template>
    </ol>
  </section>
</template>
