<script setup lang="ts">
/** A note on a day, new or changed. */
const props = defineProps<{ siteId: number; note: { id: number; day: string; words: string } | null }>()
const emit = defineEmits<{ done: [isChanged: boolean] }>()
const api = useApi()
const draft = reactive({ day: props.note?.day ?? '', words: props.note?.words ?? '' })
const { errors, isSaving, save: saveIt } = useSaving()
async function save(): Promise<void> {
  const body = { ...draft }
  const isSaved = await saveIt(async () => {
    if (props.note) await api('changeDayNote', { site: props.siteId, dayNote: props.note.id, body })
    else await api('addDayNote', { site: props.siteId, body })
  })
  if (isSaved) emit('done', true)
}
</script>

<template>
  <form class="my-2 flex max-w-3xl flex-wrap items-start gap-3" novalidate @submit.prevent="save">
    <TextField v-model="draft.day" class="w-44" label="On the day" type="date" :error="errors.day" />
    <TextField
      v-model="draft.words"
      class="min-w-60 flex-1"
      label="What happened"
      placeholder="Prices were raised"
      :error="errors.words"
    />
    <span class="flex gap-2 self-end">
      <BaseButton type="submit" :disabled="isSaving">Save the note</BaseButton>
      <BaseButton kind="quiet" @click="emit('done', false)">Cancel</BaseButton>
    </span>
  </form>
</template>
