<script setup lang="ts">
import { XMarkIcon } from '@heroicons/vue/20/solid'
import { classesKind } from '~~/core/edits/classes'
import type { Edit, EditContent } from '~~/core/edits/content'
import { editOfSame } from '~~/core/sheet/editChange'
import type { PointedElement } from '~~/shared/edits/pointing'

/** Classes of the element: those that it has, those that it gets, those that it loses. */
const props = defineProps<{ element: PointedElement; edits: readonly Edit[] }>()
const emit = defineEmits<{ commit: [content: EditContent] }>()
type ClassesContent = Extract<EditContent, { kind: 'classes' }>
const empty = computed<ClassesContent>(() => ({
  kind: 'classes',
  selector: props.element.selector,
  clues: props.element.clues,
  add: [],
  remove: [],
}))
const kept = computed(() => {
  const edit = editOfSame(props.edits, empty.value)
  return edit?.kind === 'classes' ? edit : empty.value
})
const own = computed(() => props.element.classes)
const name = ref('')
const problem = ref('')

function commit(add: string[], remove: string[]): void {
  const content = { ...empty.value, add, remove }
  problem.value = add.length + remove.length > 0 ? (classesKind.problems(content)[0] ?? '') : ''
  if (!problem.value) emit('commit', content)
}
function toggle(each: string): void {
  const { add, remove } = kept.value
  if (add.includes(each))
    commit(
      add.filter((given) => given !== each),
      remove,
    )
  else if (remove.includes(each))
    commit(
      add,
      remove.filter((taken) => taken !== each),
    )
  else commit(add, [...remove, each])
}
function give(): void {
  const given = name.value.split(/\s+/).filter((each) => each && !own.value.includes(each))
  if (given.length === 0) return
  commit([...new Set([...kept.value.add, ...given])], kept.value.remove)
  if (!problem.value) name.value = ''
}
</script>

<template>
  <div class="flex flex-col gap-2">
    <p class="text-sm font-medium">Classes</p>
    <ul v-if="own.length + kept.add.length > 0" class="flex flex-wrap gap-1.5">
      <li v-for="each in [...own, ...kept.add]" :key="each">
        <button
          type="button"
          class="chip flex items-center gap-1 font-mono text-xs"
          :class="{
            'text-ink-soft line-through': kept.remove.includes(each),
            'text-accent': kept.add.includes(each),
          }"
          :aria-label="kept.remove.includes(each) ? `Restore ${each}` : `Remove ${each}`"
          @click="toggle(each)"
        >
          {{ each }} <XMarkIcon v-if="!kept.remove.includes(each)" class="size-3.5" aria-hidden="true" />
        </button>
      </li>
    </ul>
    <form class="flex items-end gap-2" @submit.prevent="give">
      <TextField v-model="name" class="flex-1" label="Add a class" :error="problem" />
      <BaseButton type="submit" aria-label="Add the class">Add</BaseButton>
    </form>
  </div>
</template>
