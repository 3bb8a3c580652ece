<script setup lang="ts">
import { attributeKind } from '~~/core/edits/attribute'
import type { Edit, EditContent } from '~~/core/edits/content'
import { editOfSame } from '~~/core/sheet/editChange'
import type { PointedElement } from '~~/shared/edits/pointing'

/** Attributes of the element, where a link leads first, and its classes. */
const props = defineProps<{ element: PointedElement; edits: readonly Edit[] }>()
const emit = defineEmits<{ commit: [content: EditContent] }>()
const target = computed(() => ({ selector: props.element.selector, clues: props.element.clues }))
const LABELS: Record<string, string> = { href: 'Leads to', title: 'Title', alt: 'Alt text', placeholder: 'Example' }
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
const problems = ref<Record<string, string>>({})
function commit(name: string, value: string | null): void {
  const content = contentOf(name, value)
  const [problem] = attributeKind.problems(content).filter((each) => !each.includes('same as'))
  problems.value = { ...problems.value, [name]: problem ?? '' }
  if (!problem) emit('commit', content)
}
const newName = ref('')
const nameProblem = computed(() =>
  newName.value
    ? (attributeKind.problems(contentOf(newName.value.trim().toLowerCase(), 'x')).find((each) => !/same/.test(each)) ??
      '')
    : '',
)
function add(): void {
  if (!newName.value.trim() || nameProblem.value) return
  added.value = [...added.value, newName.value.trim().toLowerCase()]
  newName.value = ''
}
</script>

<template>
  <div v-for="name in names" :key="`${element.ref} ${name}`" class="flex items-end gap-2">
    <LabeledField
      v-slot="{ id, invalid, describedBy }"
      class="flex-1"
      :label="LABELS[name] ?? name"
      :error="problems[name] || undefined"
    >
      <input
        :id="id"
        class="field"
        :value="valueOf(name) ?? ''"
        :placeholder="valueOf(name) === null ? 'removed' : ''"
        :aria-invalid="invalid"
        :aria-describedby="describedBy"
        @change="commit(name, ($event.target as HTMLInputElement).value)"
      />
    </LabeledField>
    <BaseButton
      v-if="element.attributes[name] !== undefined && valueOf(name) !== element.attributes[name]"
      kind="quiet"
      @click="commit(name, element.attributes[name]!)"
      >Reset</BaseButton
    >
    <BaseButton
      v-else-if="valueOf(name) !== null"
      kind="quiet"
      :aria-label="`Remove ${name}`"
      @click="commit(name, null)"
      >Remove</BaseButton
    >
  </div>
  <form class="flex items-end gap-2" @submit.prevent="add">
    <TextField v-model="newName" class="flex-1" label="Another attribute" placeholder="title" :error="nameProblem" />
    <BaseButton type="submit">Add</BaseButton>
  </form>
  <ClassFields :element="element" :edits="edits" @commit="emit('commit', $event)" />
</template>
