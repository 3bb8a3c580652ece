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
const hasUnbreakable = markup.value.includes('\u00a0')

/** A page may have put anything into its text: only what a line may hold is shown. */
const ofLine = (text: string) =>
  DOMPurify.sanitize(text, {
    ALLOWED_TAGS: ['b', 'i', 'u', 's', 'small', 'sub', 'sup', 'mark', 'code', 'br', 'a', 'span'],
    ALLOWED_ATTR: ['href', 'data-part'],
  })

function show(): void {
  if (!editor.value || shown === markup.value) return
  shown = markup.value
  editor.value.innerHTML = ofLine(shown)
}
onMounted(show)
watch(markup, show)

/** What is typed over a part of the page leaves the part: it comes back behind the caret. */
function bringBack(before: string): void {
  const lost = partsOf(before).filter((each) => !editor.value!.querySelector(`[data-part="${each.dataset.part}"]`))
  const outer = lost.filter((each) => !lost.some((other) => other !== each && other.contains(each)))
  if (outer.length === 0) return
  const current = window.getSelection()!
  const { anchorNode, anchorOffset } = current
  document.execCommand('insertHTML', false, ` ${outer.map(({ outerHTML }) => outerHTML).join(' ')}`)
  if (anchorNode && editor.value!.contains(anchorNode)) current.collapse(anchorNode, anchorOffset)
}
function partsOf(text: string): HTMLElement[] {
  const template = document.createElement('template')
  template.innerHTML = ofLine(text)
  return [...template.content.querySelectorAll<HTMLElement>('[data-part]')]
}

let isBringingBack = false
function read(): void {
  if (isBringingBack) return
  isBringingBack = true
  bringBack(shown)
  isBringingBack = false
  const written = lineMarkup(editor.value!)
  // Browsers write a space at the end of a line as one that does not break.
  shown = hasUnbreakable ? written : written.replaceAll('\u00a0', ' ')
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
function putCaretAtEnd(): void {
  const current = window.getSelection()
  if (editor.value) current?.selectAllChildren(editor.value)
  current?.collapseToEnd()
}
defineExpose({ focus, putCaretAtEnd })
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
    <p class="text-sm text-ink-soft">Gray parts belong to the page, such as its links. They cannot be deleted here.</p>
  </div>
</template>
