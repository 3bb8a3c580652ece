<script setup lang="ts">
import type { Edit, EditContent, EditMarks } from '~~/core/edits/content'
import type { Widths } from '~~/core/edits/widths'
import { limitedToWidths } from '~/edits/windowWidths'
import type { PointedElement } from '~~/shared/edits/pointing'

/** What can be done with several elements at once. Dragging one of them on the page takes all along. */
const props = defineProps<{ elements: readonly PointedElement[]; edits: readonly Edit[]; widths: Widths | null }>()
const emit = defineEmits<{
  preview: [contents: (EditContent & EditMarks)[]]
  commit: [contents: (EditContent & EditMarks)[]]
  select: [ref: number]
}>()
/** The innermost element that holds all of them. */
const container = computed(() => {
  const [first, ...rest] = props.elements
  return first?.path.findLast(({ ref }) => rest.every(({ path }) => path.some((each) => each.ref === ref))) ?? null
})
const preview = (contents: EditContent[]) => emit('preview', limitedToWidths(contents, props.widths))
const commit = (contents: EditContent[]) => emit('commit', limitedToWidths(contents, props.widths))
const all = (contentOf: (element: PointedElement) => EditContent) => commit(props.elements.map(contentOf))
const targetOf = ({ selector, clues }: PointedElement) => ({ selector, clues })
</script>

<template>
  <div class="flex flex-col gap-3">
    <h2>{{ formatCount(elements.length) }} elements</h2>
    <ul class="text-sm">
      <li v-for="each in elements" :key="each.ref" class="truncate">{{ each.words }}</li>
    </ul>
    <div class="flex flex-wrap gap-2">
      <BaseButton v-if="container" @click="emit('select', container.ref)">Select their container</BaseButton>
      <BaseButton @click="all((each) => ({ kind: 'hide', ...targetOf(each), keepsSpace: false }))">Hide</BaseButton>
      <BaseButton @click="all((each) => ({ kind: 'remove', ...targetOf(each) }))">Remove</BaseButton>
    </div>
    <p class="text-sm text-ink-soft">Drag one of them to move all.</p>
    <EditSection title="Look" name="look">
      <LookFields :elements="elements" :edits="edits" @preview="preview" @commit="commit" />
    </EditSection>
  </div>
</template>
