<script setup lang="ts">
import { draggable, dropTargetForElements } from '@atlaskit/pragmatic-drag-and-drop/element/adapter'
import { combine } from '@atlaskit/pragmatic-drag-and-drop/combine'
import { Bars2Icon } from '@heroicons/vue/20/solid'

/** The place of a row: the row is dragged by it to the place of another, or moved by pressing it. */
const props = defineProps<{
  id: number
  title: string
  place: number
  computed: number
  reason: string | null
  mayMove: boolean
}>()
const emit = defineEmits<{ dropped: [id: number]; press: [] }>()
const handle = useTemplateRef<HTMLElement>('handle')
const isTarget = ref(false)

watchEffect((onCleanup) => {
  const row = handle.value?.closest('tr')
  if (!row || !props.mayMove) return
  const { id } = props
  onCleanup(
    combine(
      draggable({ element: row, dragHandle: handle.value!, getInitialData: () => ({ hypothesis: id }) }),
      dropTargetForElements({
        element: row,
        canDrop: ({ source }) => typeof source.data.hypothesis === 'number' && source.data.hypothesis !== id,
        onDragEnter: () => (isTarget.value = true),
        onDragLeave: () => (isTarget.value = false),
        onDrop({ source }) {
          isTarget.value = false
          emit('dropped', Number(source.data.hypothesis))
        },
      }),
    ),
  )
})
</script>

<template>
  <span ref="handle" class="flex items-center gap-1" :class="{ 'border-t-2 border-accent': isTarget }">
    <button
      v-if="mayMove"
      type="button"
      class="rounded p-0.5 text-ink-soft hover:text-ink"
      :aria-label="`Move ${title}`"
      @click="emit('press')"
    >
      <Bars2Icon class="size-4" aria-hidden="true" />
    </button>
    <span class="w-6 text-right font-medium">{{ place }}</span>
    <span v-if="reason !== null" class="text-xs whitespace-nowrap text-ink-soft" :title="`Moved by hand: ${reason}`"
      >(moved from {{ computed }})</span
    >
  </span>
</template>
