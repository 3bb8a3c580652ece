<script setup lang="ts">
import { CAUSE_WORDS } from '~~/core/traffic/splitCauses'
import type { SplitView } from '~~/shared/experiments/resultsReplies'

/** The usual causes, those first that the data shows. */
const props = defineProps<{ causes: SplitView['causes'] }>()
const inOrder = computed(() => props.causes.toSorted((a, b) => Number(b.isShown) - Number(a.isShown)))
</script>

<template>
  <div>
    <h4 class="mb-1 text-sm font-semibold">Usual causes</h4>
    <ul class="border-t border-line text-sm">
      <li
        v-for="{ cause, isShown, because } in inOrder"
        :key="cause"
        class="grid gap-x-4 border-b border-line py-2 sm:grid-cols-[7rem_1fr]"
      >
        <span :class="isShown ? 'font-semibold text-rust' : 'text-ink-soft'"
          ><span aria-hidden="true">{{ isShown ? '✕' : '○' }}</span>
          {{ isShown ? 'Data shows it' : 'No sign of it' }}</span
        >
        <span>
          <span class="block font-medium">{{ CAUSE_WORDS[cause].title }}</span>
          <span v-for="text in because" :key="text" class="block" :class="{ 'text-ink-soft': !isShown }">{{
            text
          }}</span>
          <span class="block text-ink-soft">{{ CAUSE_WORDS[cause].check }}</span>
        </span>
      </li>
    </ul>
  </div>
</template>
