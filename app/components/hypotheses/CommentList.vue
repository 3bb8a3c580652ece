<script setup lang="ts">
import type { CommentView } from '~~/shared/hypotheses'

/** What is said of a hypothesis. */
const props = defineProps<{
  siteId: number
  hypothesisId: number
  comments: readonly CommentView[]
  people: readonly { id: number; name: string }[]
  timeZone: string
}>()
const emit = defineEmits<{ changed: [] }>()
const api = useApi()
const { errors, isSaving, save } = useSaving()
const notices = useNoticesStore()
const words = ref('')
const field = useTemplateRef<HTMLTextAreaElement>('field')
const place = computed(() => ({ site: props.siteId, hypothesis: props.hypothesisId }))
const say = (text: string) =>
  save(async () => {
    await api('addHypothesisComment', { ...place.value, body: { words: text } })
    words.value = ''
    emit('changed')
  })
/** Names that begin as what stands behind the last @ does. */
const offered = computed(() => {
  const typed = /@([^@\n]{0,40})$/.exec(words.value)?.[1]?.toLowerCase()
  return typed === undefined
    ? []
    : props.people.filter(({ name }) => name.toLowerCase().startsWith(typed) && name.toLowerCase() !== typed)
})
function mention(name: string): void {
  words.value = words.value.replace(/@[^@\n]{0,40}$/, `@${name} `)
  field.value?.focus()
}
async function takeBack({ id, words: said }: CommentView): Promise<void> {
  await api('deleteHypothesisComment', { ...place.value, comment: id })
  emit('changed')
  notices.show('Taken back.', { undo: () => void say(said) })
}
</script>

<template>
  <section aria-labelledby="discussion">
    <h2 id="discussion" class="mb-2">Discussion</h2>
    <ul v-if="comments.length > 0" class="mb-4 flex flex-col gap-3">
      <li v-for="each in comments" :key="each.id" class="max-w-[70ch]">
        <p class="flex items-baseline gap-2 text-sm text-ink-soft">
          <span class="font-medium text-ink">{{ each.person ?? 'A program' }}</span>
          {{ formatTime(each.createdAt, timeZone) }}
          <BaseButton v-if="each.isOwn" kind="quiet" class="ml-auto" @click="takeBack(each)">Take back</BaseButton>
        </p>
        <p class="break-words whitespace-pre-line">{{ each.words }}</p>
      </li>
    </ul>
    <form class="flex max-w-[70ch] flex-col items-start gap-2" novalidate @submit.prevent="say(words)">
      <LabeledField
        v-slot="{ id, invalid, describedBy }"
        class="w-full"
        label="Say something"
        hint="@ and a name mention somebody."
        :error="errors.words"
      >
        <textarea
          :id="id"
          ref="field"
          v-model="words"
          class="field"
          rows="2"
          :aria-invalid="invalid"
          :aria-describedby="describedBy"
          @keydown.ctrl.enter="say(words)"
          @keydown.meta.enter="say(words)"
        />
      </LabeledField>
      <span v-if="offered.length > 0" class="flex flex-wrap gap-1">
        <BaseButton v-for="each in offered" :key="each.id" kind="quiet" @click="mention(each.name)"
          >@{{ each.name }}</BaseButton
        >
      </span>
      <BaseButton type="submit" :disabled="isSaving">Say it</BaseButton>
    </form>
  </section>
</template>
