<script setup lang="ts">
import { useMarkupDraft } from '~/edits/markupDrafts'
import type { Edit, EditContent } from '~~/core/edits/content'
import { placeInWords, PLACES, type Place } from '~~/core/edits/insert'
import { editOfSame } from '~~/core/sheet/editChange'
import type { PointedElement } from '~~/shared/edits/pointing'

/** What is inside of the element as HTML, and something new beside it or in it. */
const props = defineProps<{ element: PointedElement; edits: readonly Edit[] }>()
const emit = defineEmits<{
  preview: [content: EditContent | null]
  commit: [content: EditContent]
  remove: [edit: Edit]
}>()
const target = computed(() => ({ selector: props.element.selector, clues: props.element.clues }))
const original = computed(() => props.element.html ?? '')
const contentOf = (value: string): EditContent => ({
  kind: 'html',
  ...target.value,
  value,
  original: original.value,
})
/** The edit of its words, which HTML takes in. */
const ofWords = computed(
  () =>
    props.edits.find(
      (edit) =>
        (edit.kind === 'text' || edit.kind === 'richText') && edit.selector === props.element.selector && !edit.isOff,
    ) ?? null,
)
const kept = computed(() => {
  const edit = editOfSame(props.edits, contentOf(''))
  if (edit?.kind === 'html') return edit.value
  return ofWords.value ? (props.element.shownHtml ?? original.value) : original.value
})
function keep(): void {
  const words = ofWords.value
  emit('commit', contentOf(inside.value))
  if (words) emit('remove', words)
}
const place = (what: string) => `${useRoute().fullPath} ${props.element.selector} ${what}`
const inside = useMarkupDraft(place('inside'), kept.value)
watch(kept, (value, before) => {
  if (inside.value === before) inside.value = value
})
const hasInside = computed(() => props.element.content !== 'none' && props.element.html !== null)

const where = ref<Place>('after')
const places = computed(() =>
  PLACES.filter((each) => hasInside.value || each === 'before' || each === 'after').map((value) => ({
    value,
    label: `${placeInWords(value)} it`.replace(/^./, (letter) => letter.toUpperCase()),
  })),
)
const inserted = useMarkupDraft(place('added'), '')
const insertion = (): EditContent => ({ kind: 'insert', ...target.value, place: where.value, value: inserted.value })
function insert(): void {
  emit('commit', insertion())
  inserted.value = ''
}
</script>

<template>
  <MarkupEditor
    v-if="hasInside"
    v-model="inside"
    label="HTML inside of the element"
    action="Save the HTML"
    :original="kept"
    @preview="emit('preview', $event ? contentOf(inside) : null)"
    @keep="keep"
  />
  <p v-if="hasInside && ofWords" class="text-sm text-ink-soft">Saving the HTML replaces the edit of the words.</p>
  <p v-else-if="element.html === null" class="text-sm text-ink-soft">
    The HTML is too long to edit here. Select an element inside of it.
  </p>
  <h4 class="mt-2 font-medium">Add something</h4>
  <ChoiceField v-model="where" label="Where" :choices="places" />
  <MarkupEditor
    v-model="inserted"
    label="HTML or text to add"
    action="Add it"
    original=""
    placeholder="<p>Dogs ride free.</p>"
    @preview="emit('preview', $event ? insertion() : null)"
    @keep="insert"
  />
</template>
