<script setup lang="ts">
import { dropTargetForElements } from '@atlaskit/pragmatic-drag-and-drop/element/adapter'
import type { Stage } from '~~/shared/hypotheses/hypothesis'

/** A stage of the board: takes cards, up to its limit. */
const props = defineProps<{ stage: Stage; count: number; limit: number | null }>()
const emit = defineEmits<{ dropped: [id: number] }>()
const column = useTemplateRef<HTMLElement>('column')
const isTarget = ref(false)
const isFull = computed(() => props.limit !== null && props.count >= props.limit)
watchEffect((onCleanup) => {
  if (!column.value) return
  onCleanup(
    dropTargetForElements({
      element: column.value,
      canDrop: ({ source }) => typeof source.data.card === 'number',
      onDragEnter: () => (isTarget.value = true),
      onDragLeave: () => (isTarget.value = false),
      onDrop({ source }) {
        isTarget.value = false
        emit('dropped', Number(source.data.card))
      },
    }),
  )
})
</script>

<template>
  <section
    ref="column"
    class="flex min-h-40 min-w-0 flex-col gap-2 rounded p-2"
    :class="isTarget ? 'bg-accent-soft' : 'bg-neutral-soft'"
    :aria-label="stage"
  >
    <h2 class="flex items-baseline justify-between gap-2 text-base">
      {{ stage }}
      <span class="text-sm font-normal" :class="isFull ? 'text-rust' : 'text-ink-soft'"
        >{{ count }}<template v-if="limit !== null"> of {{ limit }}</template></span
      >
    </h2>
    <ul class="flex flex-col gap-2">
      <slot />
    </ul>
  </section>
</template>
