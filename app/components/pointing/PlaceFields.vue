<script setup lang="ts">
import type { Edit, EditContent } from '~~/core/edits/content'
import { editOfSame } from '~~/core/sheet/editChange'
import type { PointedElement, Step } from '~~/shared/edits/pointing'

/** Where the element stands, and whether it is there at all. */
const props = defineProps<{ element: PointedElement; edits: readonly Edit[] }>()
const emit = defineEmits<{ step: [step: Step]; commit: [content: EditContent]; remove: [edit: Edit] }>()
const target = computed(() => ({ selector: props.element.selector, clues: props.element.clues }))
const hidden = computed(() => editOfSame(props.edits, { kind: 'hide', ...target.value, keepsSpace: false }))
const place = computed(() => `${props.element.place + 1} of ${props.element.siblings}`)
</script>

<template>
  <p class="text-sm text-ink-soft">
    Stands as {{ place }} in its container. Drag it, or use the buttons (Alt+↑ and Alt+↓ on the page).
  </p>
  <div class="flex flex-wrap gap-2">
    <BaseButton :disabled="element.place <= 0" @click="emit('step', 'earlier')">Earlier</BaseButton>
    <BaseButton :disabled="element.place >= element.siblings - 1" @click="emit('step', 'later')">Later</BaseButton>
    <BaseButton :disabled="element.path.length === 0" @click="emit('step', 'out')"
      >Move out of the container</BaseButton
    >
  </div>
  <div class="flex flex-wrap gap-2">
    <BaseButton v-if="hidden" @click="emit('remove', hidden)">Show it again</BaseButton>
    <template v-else>
      <BaseButton @click="emit('commit', { kind: 'hide', ...target, keepsSpace: false })">Hide</BaseButton>
      <BaseButton @click="emit('commit', { kind: 'hide', ...target, keepsSpace: true })"
        >Hide, keep its space</BaseButton
      >
      <BaseButton @click="emit('commit', { kind: 'remove', ...target })">Remove</BaseButton>
    </template>
  </div>
  <p class="text-sm text-ink-soft">
    On pages that build themselves in the browser, hiding is safer than removing: their scripts find all that they look
    for.
  </p>
</template>
