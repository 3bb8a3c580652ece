<script setup lang="ts">
import DOMPurify from 'dompurify'
import { lineMarkup } from '~/edits/lineMarkup'

/** Writes a line of text whose links and other parts stay what they are. */
const props = defineProps<{ id: string; invalid?: boolean; describedBy?: string }>()
const emit = defineEmits<{ commit: []; leave: [] }>()
const markup = defineModel<string>({ required: true })
const editor = useTemplateRef<HTMLElement>('editor')
const address = ref('')
const isLinking = ref(false)
let selection: Range | null = null
let shown = ''

/** A page may have put anything into its text: only what a line may hold is shown. */
function show(): void {
  if (!editor.value || shown === markup.value) return
  shown = markup.value
  editor.value.innerHTML = DOMPurify.sanitize(markup.value, {
    ALLOWED_TAGS: ['b', 'i', 'u', 's', 'small', 'sub', 'sup', 'mark', 'code', 'br', 'a', 'span'],
    ALLOWED_ATTR: ['href', 'data-part'],
  })
}
onMounted(show)
watch(markup, show)

function read(): void {
  shown = lineMarkup(editor.value!)
  markup.value = shown
}
/** Browsers have no other way to do this that they undo themselves. */
function run(command: 'bold' | 'italic' | 'unlink' | 'insertText' | 'createLink', value?: string): void {
  editor.value?.focus()
  document.execCommand('styleWithCSS', false, 'false')
  document.execCommand(command, false, value)
  read()
}
function beginLink(): void {
  const current = window.getSelection()
  selection = current && current.rangeCount > 0 ? current.getRangeAt(0).cloneRange() : null
  isLinking.value = true
}
function link(): void {
  isLinking.value = false
  if (!selection || !address.value.trim()) return
  editor.value?.focus()
  const current = window.getSelection()
  current?.removeAllRanges()
  current?.addRange(selection)
  run('createLink', address.value.trim())
}
function paste(event: ClipboardEvent): void {
  event.preventDefault()
  run('insertText', event.clipboardData?.getData('text/plain') ?? '')
}
const focus = () => editor.value?.focus()
const select = () => editor.value && window.getSelection()?.selectAllChildren(editor.value)
defineExpose({ focus, select })
</script>

<template>
  <div class="flex flex-col gap-1">
    <div class="flex gap-1" role="toolbar" aria-label="Emphasis and links">
      <button type="button" class="chip font-bold" @mousedown.prevent @click="run('bold')">Bold</button>
      <button type="button" class="chip italic" @mousedown.prevent @click="run('italic')">Italic</button>
      <button type="button" class="chip underline" @mousedown.prevent @click="beginLink">Link</button>
      <button type="button" class="chip" @mousedown.prevent @click="run('unlink')">No link</button>
    </div>
    <div
      :id="props.id"
      ref="editor"
      class="field min-h-20 leading-relaxed [&_a]:underline [&_span]:rounded [&_span]:bg-neutral-soft [&_span]:px-0.5"
      contenteditable="true"
      role="textbox"
      aria-multiline="true"
      aria-label="New text"
      :aria-invalid="invalid"
      :aria-describedby="describedBy"
      @input="read"
      @paste="paste"
      @keydown.ctrl.enter.prevent="emit('commit')"
      @keydown.meta.enter.prevent="emit('commit')"
      @keydown.esc.stop="emit('leave')"
    />
    <form v-if="isLinking" class="flex items-end gap-2" @submit.prevent="link">
      <TextField v-model="address" class="flex-1" label="The link leads to" placeholder="/book" />
      <BaseButton type="submit">Set</BaseButton>
    </form>
    <p class="text-sm text-ink-soft">Gray parts belong to the page, such as its links: they stay what they are.</p>
  </div>
</template>
