<script setup lang="ts">
import type { Edit } from '~~/core/edits/edit'
import { LONGEST_TEXT } from '~~/core/edits/text'
import type { PointedElement } from '~~/shared/pointing'

const props = defineProps<{ edits: readonly Edit[]; selected: PointedElement | null }>()
const emit = defineEmits<{
  setText: [selector: string, original: string, value: string]
  remove: [edit: Edit]
  select: []
}>()
const text = ref('')
/** What the field said when the element was pointed at. */
let initial = ''
/** Their inside is made of elements; one text in its place would take them away. */
const WITHOUT_TEXT = new Set([
  'select',
  'datalist',
  'input',
  'textarea',
  'table',
  'tr',
  'ul',
  'ol',
  'img',
  'svg',
  'iframe',
])
const existingOf = (element: PointedElement | null) =>
  props.edits.find((edit) => edit.selector === element?.selector) ?? null
const hasText = computed(() => !WITHOUT_TEXT.has(props.selected?.tag ?? ''))
const problem = computed(() => {
  if (!text.value.trim()) return 'Type the text that visitors should read.'
  return text.value.length > LONGEST_TEXT ? `The text is longer than ${formatCount(LONGEST_TEXT)} characters.` : ''
})
const input = useTemplateRef<HTMLTextAreaElement>('input')

watch(
  () => props.selected,
  async (selected, previous) => {
    // What was typed for the element before is not lost by pointing at the next.
    settle(previous ?? null)
    initial = (selected?.text ?? '').replace(/\s+/g, ' ').trim()
    text.value = initial
    await nextTick()
    input.value?.focus()
    input.value?.select()
  },
)
function settle(element: PointedElement | null): void {
  if (!element || WITHOUT_TEXT.has(element.tag) || problem.value || text.value === initial) return
  initial = text.value
  emit('setText', element.selector, existingOf(element)?.original ?? element.text, text.value)
}
const apply = () => settle(props.selected)
onBeforeUnmount(apply)
useEventListener(window, 'pagehide', apply)
</script>

<template>
  <aside
    class="flex flex-col gap-5 overflow-y-auto border-l border-line p-4 max-lg:max-h-[45dvh] max-lg:border-t max-lg:border-l-0"
    aria-label="Edits"
  >
    <p v-if="selected && !hasText">This {{ selected.tag }} has no text of its own. Point at the text inside of it.</p>
    <form v-else-if="selected" class="flex flex-col gap-2" @submit.prevent="apply">
      <h2>
        Text of <span class="font-mono text-base font-normal">{{ selected.tag }}</span>
      </h2>
      <p class="font-mono text-xs break-words text-ink-soft">{{ selected.selector }}</p>
      <LabeledField v-slot="{ id, invalid, describedBy }" label="New text" :error="problem">
        <textarea
          :id="id"
          ref="input"
          v-model="text"
          class="field"
          rows="4"
          :aria-invalid="invalid"
          :aria-describedby="describedBy"
          @keydown.ctrl.enter.prevent="apply"
          @keydown.meta.enter.prevent="apply"
          @keydown.esc.stop="emit('select')"
        />
      </LabeledField>
      <p v-if="selected.hasElements" class="text-sm text-rust">
        This element holds others, such as links, which the new text would replace. Point at the text itself if you can.
      </p>
      <BaseButton kind="main" type="submit" :disabled="problem !== ''">Change the text</BaseButton>
    </form>
    <p v-else class="text-ink-soft">Click an element of the page.</p>
    <div>
      <h3 class="mb-1">Edits of this variant</h3>
      <p v-if="edits.length === 0" class="text-ink-soft">None yet.</p>
      <ul class="flex flex-col">
        <li v-for="edit in edits" :key="edit.id" class="border-b border-line py-2">
          <p class="font-mono text-xs break-words text-ink-soft">{{ edit.selector }}</p>
          <p class="line-clamp-3">{{ edit.value }}</p>
          <BaseButton kind="quiet" class="-ml-3" @click="emit('remove', edit)">Remove</BaseButton>
        </li>
      </ul>
    </div>
  </aside>
</template>
