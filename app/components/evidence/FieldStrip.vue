<script setup lang="ts">
import type { FieldFigures } from '~~/core/evidence/formReport'
import { durationInWords } from '~/data/durations'

/** The time in a field as a quartile mark, on a scale that all fields share. */
const props = defineProps<{ field: FieldFigures; other: FieldFigures | null; longest: number }>()
const place = (ms: number) => `${Math.min(100, (ms / props.longest) * 100)}%`
const own = computed(() => props.field.time)
const others = computed(() => props.other?.time ?? null)
const words = computed(() =>
  own.value ? `half take ${durationInWords(own.value[0])} to ${durationInWords(own.value[2])}` : 'nobody was in it',
)
</script>

<template>
  <div class="relative h-7 w-full min-w-36" role="img" :aria-label="words">
    <div class="absolute inset-x-0 top-1/2 border-t border-line" />
    <template v-if="own">
      <div
        class="absolute top-1.5 h-2.5 bg-ink-soft"
        :style="{ left: place(own[0]), right: `calc(100% - ${place(own[2])})`, minWidth: '2px' }"
      />
      <div class="absolute top-0.5 h-4.5 w-0.5 bg-ink" :style="{ left: place(own[1]) }" />
    </template>
    <template v-if="others">
      <div
        class="absolute top-5 h-1 bg-line-strong"
        :style="{ left: place(others[0]), right: `calc(100% - ${place(others[2])})`, minWidth: '2px' }"
      />
      <div class="absolute top-4.5 h-2 w-0.5 bg-ink-soft" :style="{ left: place(others[1]) }" />
    </template>
  </div>
</template>
