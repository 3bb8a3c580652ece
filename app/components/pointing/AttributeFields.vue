<script setup lang="ts">
import { attributeKind } from '~~/core/edits/attribute'
import type { Edit, EditContent } from '~~/core/edits/content'
import { editOfSame } from '~~/core/sheet/editChange'
import type { PointedElement } from '~~/shared/edits/pointing'

/** Attributes of the element, where a link leads first, and its classes. */
const props = defineProps<{ element: PointedElement; edits: readonly Edit[] }>()
const emit = defineEmits<{ commit: [content: EditContent] }>()
const target = computed(() => ({ selector: props.element.selector, clues: props.element.clues }))
type AttributeContent = Extract<EditContent, { kind: 'attribute' }>
const contentOf = (name: string, value: string | null): AttributeContent => ({
  kind: 'attribute',
  ...target.value,
  name,
  value,
  original: props.element.attributes[name] ?? null,
})
const added = ref<string[]>([])
const changedNames = computed(() =>
  props.edits.flatMap((edit) =>
    edit.kind === 'attribute' && edit.selector === props.element.selector && !edit.isOff ? [edit.name] : [],
  ),
)
const names = computed(() => {
  const own = Object.keys(props.element.attributes).filter((name) => !props.element.picture || name !== 'src')
  const all = [...new Set([...own, ...changedNames.value, ...added.value])]
  return all.sort((a, b) => Number(b === 'href') - Number(a === 'href'))
})
function valueOf(name: string): string | null {
  const edit = editOfSame(props.edits, contentOf(name, null))
  return edit?.kind === 'attribute' ? edit.value : (props.element.attributes[name] ?? null)
}
/** Why the attribute cannot become so: empty where it can. That nothing changed is no problem. */
const problemOf = (content: AttributeContent) =>
  attributeKind.problems(content).find((each) => !each.includes('same as')) ?? ''
const newName = ref('')
const nameProblem = computed(() => (newName.value ? problemOf(contentOf(newName.value.trim().toLowerCase(), 'x')) : ''))
function add(): void {
  if (!newName.value.trim() || nameProblem.value) return
  added.value = [...added.value, newName.value.trim().toLowerCase()]
  newName.value = ''
}
</script>

<template>
  <AttributeField
    v-for="name in names"
    :key="`${element.ref} ${name}`"
    :name="name"
    :value="valueOf(name)"
    :original="element.attributes[name] ?? null"
    :problem-of="(value) => problemOf(contentOf(name, value))"
    @commit="emit('commit', contentOf(name, $event))"
  />
  <form class="flex items-end gap-2" @submit.prevent="add">
    <TextField v-model="newName" class="flex-1" label="Another attribute" placeholder="title" :error="nameProblem" />
    <BaseButton type="submit">Add</BaseButton>
  </form>
  <ClassFields :element="element" :edits="edits" @commit="emit('commit', $event)" />
</template>
