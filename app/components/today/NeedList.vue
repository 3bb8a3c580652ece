<script setup lang="ts">
import type { TodayItem } from '~~/shared/sites/replies'

/** What needs a person, the most urgent first. */
defineProps<{ needs: readonly TodayItem[] }>()
const KINDS: Record<TodayItem['kind'], { label: string; class: string }> = {
  allocation: { label: '✕ Broken', class: 'text-rust' },
  alarm: { label: '✕ Alarm', class: 'text-rust' },
  drift: { label: '! Page changed', class: 'text-rust' },
  silent: { label: '✕ Silent', class: 'text-rust' },
  'set-aside': { label: '! Set aside', class: 'text-rust' },
  verdict: { label: '◆ Verdict', class: 'text-pine' },
  chance: { label: '… Little chance', class: 'text-ink-soft' },
  install: { label: '! Install', class: 'text-rust' },
  mention: { label: '@ Mention', class: 'text-ink-soft' },
  finding: { label: '✎ Finding', class: 'text-ink-soft' },
  served: { label: '◆ Served', class: 'text-ink-soft' },
  draft: { label: '✎ Draft', class: 'text-ink-soft' },
}
</script>

<template>
  <ul class="border-t border-line">
    <li v-for="item in needs" :key="item.title" class="border-b border-line">
      <NuxtLink :to="item.link" class="grid gap-x-6 gap-y-1 px-2 py-3 hover:bg-neutral-soft sm:grid-cols-[6rem_1fr]">
        <span class="text-sm font-medium" :class="KINDS[item.kind].class">{{ KINDS[item.kind].label }}</span>
        <span>
          <span class="block font-semibold">{{ item.title }}</span>
          <span class="block max-w-[72ch] text-ink-soft">{{ item.text }}</span>
        </span>
      </NuxtLink>
    </li>
  </ul>
</template>
