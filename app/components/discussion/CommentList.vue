<script setup lang="ts">
import type { CommentView } from '~~/shared/hypotheses/replies'

/** What is said of something. */
const props = defineProps<{
  comments: readonly CommentView[]
  people: readonly { id: number; name: string }[]
  timeZone: string
  /** Of a section that has a title of its own. */
  isBelow?: boolean
  /** Keeps what was typed; fails with why not. */
  say: (words: string) => Promise<unknown>
  takeBack: (comment: CommentView) => Promise<unknown>
}>()
const { errors, isSaving, save } = useSaving()
const notices = useNoticesStore()
const words = ref('')
const field = useTemplateRef<HTMLTextAreaElement>('field')
const sayIt = (text: string) =>
  save(async () => {
    await props.say(text)
    words.value = ''
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
async function undoable(comment: CommentView): Promise<void> {
  try {
    await props.takeBack(comment)
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    return void notices.show(error.message, { tone: 'problem' })
  }
  notices.show('Deleted.', { undo: () => void sayIt(comment.words) })
}
</script>

<template>
  <section aria-labelledby="discussion">
    <component :is="isBelow ? 'h3' : 'h2'" id="discussion" class="mb-2">Discussion</component>
    <ul v-if="comments.length > 0" class="mb-4 flex flex-col gap-3">
      <li v-for="each in comments" :key="each.id" class="max-w-[70ch]">
        <p class="flex items-baseline gap-2 text-sm text-ink-soft">
          <span class="font-medium text-ink">{{ each.person ?? 'A program' }}</span>
          {{ formatTime(each.createdAt, timeZone) }}
          <BaseButton v-if="each.isOwn" kind="quiet" class="ml-auto" @click="undoable(each)">Delete</BaseButton>
        </p>
        <p class="break-words whitespace-pre-line">{{ each.words }}</p>
      </li>
    </ul>
    <form class="flex max-w-[70ch] flex-col items-start gap-2" novalidate @submit.prevent="sayIt(words)">
      <LabeledField
        v-slot="{ id, invalid, describedBy }"
        class="w-full"
        label="Comment"
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
          @keydown.ctrl.enter="sayIt(words)"
          @keydown.meta.enter="sayIt(words)"
        />
      </LabeledField>
      <span v-if="offered.length > 0" class="flex flex-wrap gap-1">
        <BaseButton v-for="each in offered" :key="each.id" kind="quiet" @click="mention(each.name)"
          >@{{ each.name }}</BaseButton
        >
      </span>
      <BaseButton type="submit" :disabled="isSaving">Comment</BaseButton>
    </form>
  </section>
</template>
