<script setup lang="ts">
import { COMPUTED_AS, LOOK_GROUPS } from '~/edits/lookControls'
import type { Edit, EditContent } from '~~/core/edits/content'
import { PHONE_WIDTH, widerThanPhone } from '~~/core/edits/fixedWidth'
import { parseDeclarations, type Declarations } from '~~/core/edits/style'
import { editOfSame } from '~~/core/sheet/editChange'
import type { PointedElement } from '~~/shared/edits/pointing'

/** The look of one or several elements, by controls and by CSS. */
const props = defineProps<{ elements: readonly PointedElement[]; edits: readonly Edit[] }>()
const emit = defineEmits<{ preview: [contents: EditContent[]]; commit: [contents: EditContent[]] }>()
const first = computed(() => props.elements[0]!)
const empty = (element: PointedElement): Extract<EditContent, { kind: 'style' }> => ({
  kind: 'style',
  selector: element.selector,
  clues: element.clues,
  value: {},
  original: {},
})
function keptOf(element: PointedElement): Declarations {
  const edit = editOfSame(props.edits, empty(element))
  return edit?.kind === 'style' ? edit.value : {}
}
const kept = computed(() => keptOf(first.value))
const wide = computed(() => widerThanPhone(kept.value))
const computedValue = (property: string) => first.value.look[COMPUTED_AS[property] ?? property] ?? ''

/** The edit of an element whose properties are set so; an empty value leaves one as it was. */
function contentOf(element: PointedElement, changed: Declarations): EditContent {
  const value = Object.fromEntries(
    Object.entries({ ...keptOf(element), ...changed }).filter(([, each]) => each.trim() !== ''),
  )
  const original = Object.fromEntries(
    Object.keys(value).map((name) => [name, element.look[COMPUTED_AS[name] ?? name] ?? '']),
  )
  return { ...empty(element), value, original }
}
const contentsOf = (changed: Declarations) => props.elements.map((element) => contentOf(element, changed))
const preview = (property: string, value: string) => emit('preview', contentsOf({ [property]: value }))
const commit = (property: string, value: string) => emit('commit', contentsOf({ [property]: value }))

const css = ref('')
const asCss = (declarations: Declarations) =>
  Object.entries(declarations)
    .map(([name, value]) => `${name}: ${value};`)
    .join('\n')
watch(kept, () => (css.value = asCss(kept.value)), { immediate: true })
const typed = computed(() => {
  const { declarations, problems } = parseDeclarations(css.value)
  const refused = Object.entries(declarations).filter(([name, value]) => !CSS.supports(name, value))
  return {
    declarations,
    problems: [...problems, ...refused.map(([name, value]) => `“${value}” is no value of ${name}.`)],
  }
})
function commitCss(): void {
  if (typed.value.problems.length > 0) return
  const gone = Object.fromEntries(Object.keys(kept.value).map((name) => [name, '']))
  emit('commit', contentsOf({ ...gone, ...typed.value.declarations }))
}
</script>

<template>
  <fieldset v-for="group in LOOK_GROUPS" :key="group.title" class="grid grid-cols-2 gap-x-3 gap-y-2">
    <legend class="mb-1 text-sm text-ink-soft">{{ group.title }}</legend>
    <LookControl
      v-for="control in group.controls"
      :key="control.property"
      :control="control"
      :group="group.title"
      :original="computedValue(control.property)"
      :changed="kept[control.property] ?? null"
      @preview="preview(control.property, $event)"
      @commit="commit(control.property, $event)"
    />
  </fieldset>
  <p v-if="wide !== null" class="border-l-4 border-rust py-1 pl-3 text-sm" role="status">
    It is {{ formatCount(wide) }} px wide, and a phone’s window {{ PHONE_WIDTH }}.
    <BaseButton kind="quiet" @click="commit('max-width', '100%')">Fit it into narrower windows</BaseButton>
  </p>
  <LabeledField
    v-slot="{ id, invalid, describedBy }"
    label="CSS"
    hint="One property a line, such as color: navy."
    :error="typed.problems[0]"
  >
    <textarea
      :id="id"
      v-model="css"
      class="field font-mono text-xs"
      rows="4"
      spellcheck="false"
      :aria-invalid="invalid"
      :aria-describedby="describedBy"
      @change="commitCss"
    />
  </LabeledField>
</template>
