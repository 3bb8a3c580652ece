<script setup lang="ts">
import type { ToldChoicesView } from '~~/shared/notifications/replies'
import { clockOf, minuteOf } from '~/notifications/clockTime'

/** When letters may come. */
const props = defineProps<{ times: ToldChoicesView['times'] }>()
const emit = defineEmits<{ saved: [view: ToldChoicesView] }>()
const api = useApi()
const notices = useNoticesStore()
const draft = reactive({
  timeZone: props.times.timeZone ?? '',
  quietFrom: clockOf(props.times.quietFrom),
  quietUntil: clockOf(props.times.quietUntil),
  morningAt: clockOf(props.times.morningAt),
})
const errors = ref<Record<string, string>>({})
const errorOf = (field: string) => errors.value[`times.${field}`]
const here = Intl.DateTimeFormat().resolvedOptions().timeZone

async function save(): Promise<void> {
  errors.value = {}
  const minute = (field: 'quietFrom' | 'quietUntil' | 'morningAt') => minuteOf(draft[field]) as number
  const times = {
    timeZone: draft.timeZone.trim() || null,
    quietFrom: minute('quietFrom'),
    quietUntil: minute('quietUntil'),
    morningAt: minute('morningAt'),
  }
  try {
    emit('saved', await api('changeToldChoices', { body: { ways: [], times } }))
    notices.show('Saved.')
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    errors.value = error.fields
    if (Object.keys(error.fields).length === 0) notices.show(error.message, { tone: 'problem' })
  }
}
</script>

<template>
  <form class="flex max-w-2xl flex-col items-start gap-3" novalidate @submit.prevent="save">
    <div class="grid w-full gap-4 sm:grid-cols-3">
      <TextField v-model="draft.morningAt" type="time" label="Morning letter at" :error="errorOf('morningAt')" />
      <TextField v-model="draft.quietFrom" type="time" label="No letters from" :error="errorOf('quietFrom')" />
      <TextField
        v-model="draft.quietUntil"
        type="time"
        label="No letters until"
        hint="The same time in both: letters come at any time."
        :error="errorOf('quietUntil')"
      />
    </div>
    <TextField
      v-model="draft.timeZone"
      class="w-full max-w-xs"
      label="Time zone"
      :placeholder="here"
      hint="Empty: that of the site."
      :error="errorOf('timeZone')"
    />
    <BaseButton type="submit">Save the times</BaseButton>
  </form>
</template>
