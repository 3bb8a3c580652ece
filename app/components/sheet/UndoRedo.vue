<script setup lang="ts">
/** The lists of changes to take back, and to make again. They belong to this sheet alone, wherever one went meanwhile. */
const store = useSheetStore()
const notices = useNoticesStore()

function step(kind: 'undo' | 'redo'): void {
  const refusal = store.work?.step(kind)
  if (refusal) notices.show(refusal, { tone: 'problem' })
}
/** Within a field that is being written, the keys belong to the field. */
useEventListener('keydown', (event: KeyboardEvent) => {
  const isWriting = event.target instanceof HTMLElement && event.target.matches('input, textarea, [contenteditable]')
  if (event.key.toLowerCase() !== 'z' || !(event.ctrlKey || event.metaKey) || event.altKey || isWriting) return
  event.preventDefault()
  step(event.shiftKey ? 'redo' : 'undo')
})
</script>

<template>
  <span class="flex gap-2">
    <BaseButton kind="quiet" title="Ctrl/⌘+Z" :disabled="!store.work?.kept.undo.length" @click="step('undo')"
      >Undo</BaseButton
    >
    <BaseButton kind="quiet" title="Ctrl/⌘+Shift+Z" :disabled="!store.work?.kept.redo.length" @click="step('redo')"
      >Redo</BaseButton
    >
  </span>
</template>
