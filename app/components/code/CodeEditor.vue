<script setup lang="ts">
import { css } from '@codemirror/lang-css'
import { html } from '@codemirror/lang-html'
import { javascript } from '@codemirror/lang-javascript'
import { syntaxTree } from '@codemirror/language'
import { linter, type Diagnostic } from '@codemirror/lint'
import { Compartment, EditorState } from '@codemirror/state'
import { EditorView, placeholder as placeholderOf } from '@codemirror/view'
import { basicSetup } from 'codemirror'

/** Writes code, with completion and with marks where it cannot be read. */
const props = defineProps<{ label: string; language: 'css' | 'javascript' | 'html'; placeholder?: string }>()
const emit = defineEmits<{ commit: [] }>()
const code = defineModel<string>({ required: true })
/** Tags that close themselves come twice where somebody writes the end by hand. */
const LANGUAGES = { css, javascript, html: () => html({ autoCloseTags: false }) }
const MOST_MARKS = 20
const host = useTemplateRef<HTMLElement>('host')
const grammar = new Compartment()
let view: EditorView | null = null

/** Places that the parser of the language could not read. */
function marks({ state }: EditorView): Diagnostic[] {
  const found: Diagnostic[] = []
  syntaxTree(state).iterate({
    enter({ type, from, to }) {
      if (!type.isError || found.length >= MOST_MARKS) return
      const end = Math.min(Math.max(to, from + 1), state.doc.length)
      found.push({
        from: Math.min(from, end),
        to: end,
        severity: 'error',
        message: 'This cannot be read. Check this place and what comes before it.',
      })
    },
  })
  return found
}

onMounted(() => {
  view = new EditorView({
    parent: host.value!,
    state: EditorState.create({
      doc: code.value,
      extensions: [
        basicSetup,
        grammar.of(LANGUAGES[props.language]()),
        linter(marks),
        placeholderOf(props.placeholder ?? ''),
        EditorView.lineWrapping,
        EditorView.contentAttributes.of({ 'aria-label': props.label }),
        EditorView.updateListener.of(({ docChanged, state }) => {
          if (docChanged) code.value = state.doc.toString()
        }),
        EditorView.domEventHandlers({ blur: () => emit('commit') }),
      ],
    }),
  })
})
watch(code, (text) => {
  if (view && view.state.doc.toString() !== text)
    view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: text } })
})
watch(
  () => props.language,
  () => view?.dispatch({ effects: grammar.reconfigure(LANGUAGES[props.language]()) }),
)
onBeforeUnmount(() => view?.destroy())
</script>

<template>
  <div ref="host" class="code-editor overflow-auto rounded border border-line-strong bg-raised font-mono text-xs" />
</template>

<style>
.code-editor .cm-editor {
  min-height: 7rem;
  max-height: 40dvh;
}
.code-editor .cm-scroller {
  font-family: var(--font-mono);
}
.code-editor .cm-gutters {
  background: var(--neutral-soft);
  color: var(--ink-soft);
  border-color: var(--line);
}
.code-editor .cm-content {
  caret-color: var(--ink);
}
.code-editor .cm-editor .cm-activeLine,
.code-editor .cm-editor .cm-activeLineGutter {
  background: color-mix(in srgb, var(--accent-soft) 40%, transparent);
}
.code-editor .cm-tooltip {
  background: var(--raised);
  color: var(--ink);
  border-color: var(--line-strong);
}
</style>
