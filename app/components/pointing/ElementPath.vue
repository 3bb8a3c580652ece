<script setup lang="ts">
import { ChevronRightIcon } from '@heroicons/vue/20/solid'
import type { PointedElement } from '~~/shared/edits/pointing'

/** What the element stands in, and what it holds: each leads there. */
const props = defineProps<{ element: PointedElement }>()
const emit = defineEmits<{ select: [ref: number]; hover: [ref: number | null] }>()
const DEEPEST = 3
const around = computed(() => props.element.path.slice(-DEEPEST))
const isCut = computed(() => props.element.path.length > DEEPEST)
</script>

<template>
  <nav aria-label="Around the element" class="flex flex-col gap-1 text-sm">
    <ol v-if="around.length > 0" class="flex flex-wrap items-center gap-x-1 text-ink-soft">
      <li v-if="isCut">…</li>
      <li v-for="each in around" :key="each.ref" class="flex min-w-0 items-center gap-1">
        <button
          type="button"
          class="max-w-40 truncate text-left underline decoration-line-strong hover:text-ink"
          @click="emit('select', each.ref)"
          @pointerenter="emit('hover', each.ref)"
          @pointerleave="emit('hover', null)"
        >
          {{ each.words }}
        </button>
        <ChevronRightIcon class="size-4 shrink-0" aria-hidden="true" />
      </li>
      <li class="truncate font-medium text-ink">{{ element.words }}</li>
    </ol>
    <details v-if="element.children.length > 0">
      <summary class="cursor-pointer text-ink-soft">Holds {{ formatCount(element.children.length) }} elements</summary>
      <ul class="mt-1 flex flex-col gap-0.5 pl-4">
        <li v-for="each in element.children" :key="each.ref">
          <button
            type="button"
            class="max-w-full truncate text-left underline decoration-line-strong hover:text-ink"
            @click="emit('select', each.ref)"
            @pointerenter="emit('hover', each.ref)"
            @pointerleave="emit('hover', null)"
          >
            {{ each.words }}
          </button>
        </li>
      </ul>
    </details>
  </nav>
</template>
