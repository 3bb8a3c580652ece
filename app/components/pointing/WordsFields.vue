<script setup lang="ts">
import type { Edit, EditContent } from '~~/core/edits/content'
import { oneLine } from '~~/core/edits/element'
import { markupText } from '~~/core/edits/markup'
import { LONGEST_TEXT } from '~~/core/edits/text'
import { editOfSame } from '~~/core/sheet/editChange'
import { elementKind } from '~~/core/measurement/elementKind'
import type { PointedElement } from '~~/shared/edits/pointing'

/** The words of an element, shown on the page as they are typed. */
const props = defineProps<{ siteId: number; element: PointedElement; edits: readonly Edit[] }>()
const emit = defineEmits<{ preview: [content: EditContent | null]; commit: [content: EditContent]; leave: [] }>()
const kind = computed(() => elementKind(props.element.tag, props.element.clues.role))
const around = computed(() => [props.element.clues.before, props.element.clues.after].filter(Boolean).join(' '))
const isLine = computed(() => props.element.content === 'line')
const target = computed(() => ({ selector: props.element.selector, clues: props.element.clues }))
const original = computed(() => (isLine.value ? props.element.line! : oneLine(props.element.text)))
const contentOf = (value: string): EditContent => ({
  ...(isLine.value ? { kind: 'richText' } : { kind: 'text' }),
  ...target.value,
  value,
  original: isLine.value ? original.value : props.element.text,
})
const kept = computed(() => editOfSame(props.edits, contentOf(original.value)))
const keptValue = computed(() =>
  kept.value && 'value' in kept.value && typeof kept.value.value === 'string' ? kept.value.value : original.value,
)
const text = ref(keptValue.value)
const words = computed(() => (isLine.value ? markupText(text.value) : text.value))
const problem = computed(() => {
  if (!words.value.trim() && !text.value.includes('data-part')) return 'Type the text that visitors should read.'
  return words.value.length > LONGEST_TEXT ? `The text is longer than ${formatCount(LONGEST_TEXT)} characters.` : ''
})
const isTyped = computed(() => text.value !== keptValue.value)
const contentTyped = () => contentOf(text.value)
/** Text that is put back as it was says so in the words of the page. */
function settle(): void {
  if (!isTyped.value || problem.value) return
  const content = contentTyped()
  if (content.kind === 'text' && text.value === original.value) content.value = content.original
  emit('commit', content)
}
watch(text, () => emit('preview', isTyped.value && !problem.value ? contentTyped() : null))
// What is undone elsewhere is undone in the field too.
watch(keptValue, (value, before) => {
  if (text.value === before) text.value = value
})
/** What was typed is not lost by pointing elsewhere; a space that somebody did not mean is. */
function settleOnLeaving(): void {
  if (oneLine(text.value) !== oneLine(keptValue.value)) settle()
}
onBeforeUnmount(settleOnLeaving)
useEventListener(window, 'pagehide', settleOnLeaving)
useLeaveGuard(() => isTyped.value && problem.value !== '')
const line = useTemplateRef<{ focus: () => void; putCaretAtEnd: () => void }>('line')
const plain = useTemplateRef<HTMLTextAreaElement>('plain')
/** At the end: a key that was pressed by mistake replaces nothing. */
onMounted(() => {
  line.value?.focus()
  line.value?.putCaretAtEnd()
  plain.value?.focus()
  plain.value?.setSelectionRange(text.value.length, text.value.length)
})
</script>

<template>
  <form class="flex flex-col gap-2" @submit.prevent="settle">
    <p v-if="element.isChanging" class="border-l-2 border-rust pl-3 text-sm" role="status">
      The page changes this text by itself. Your text replaces it each time, whatever the page says.
    </p>
    <LabeledField v-slot="{ id, invalid, describedBy }" label="New text" :error="problem">
      <LineEditor
        v-if="isLine"
        :id="id"
        ref="line"
        v-model="text"
        :invalid="invalid"
        :described-by="describedBy"
        @commit="settle"
        @leave="emit('leave')"
      />
      <textarea
        v-else
        :id="id"
        ref="plain"
        v-model="text"
        class="field"
        rows="3"
        :aria-invalid="invalid"
        :aria-describedby="describedBy"
        @keydown.ctrl.enter.prevent="settle"
        @keydown.meta.enter.prevent="settle"
        @keydown.esc.stop="emit('leave')"
      />
    </LabeledField>
    <div class="flex gap-2">
      <BaseButton kind="main" type="submit" :disabled="problem !== '' || !isTyped">Save the text</BaseButton>
      <BaseButton v-if="text !== original" kind="quiet" @click="text = original">Reset</BaseButton>
    </div>
    <WordingIdeas
      v-if="!isLine"
      :site-id="siteId"
      :text="original"
      :element="kind"
      :around="around"
      @take="text = $event"
    />
  </form>
</template>
