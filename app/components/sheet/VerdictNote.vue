<script setup lang="ts">
import type { Verdict, VerdictKind } from '~~/core/verdict/verdict'

defineProps<{ verdict: Verdict }>()
/** A number stays with its unit. */
const unbroken = (text: string) => text.replaceAll(' %', '\u00a0%')
const TONES: Record<VerdictKind, { sign: string; class: string }> = {
  distrust: { sign: '✕', class: 'border-rust bg-rust-soft' },
  harm: { sign: '▼', class: 'border-rust bg-rust-soft' },
  early: { sign: '…', class: 'border-line-strong bg-neutral-soft' },
  'go-on': { sign: '…', class: 'border-line-strong bg-neutral-soft' },
  open: { sign: '?', class: 'border-line-strong bg-neutral-soft' },
  'no-difference': { sign: '=', class: 'border-line-strong bg-neutral-soft' },
  ship: { sign: '▲', class: 'border-pine bg-pine-soft' },
  'ship-low-risk': { sign: '▲', class: 'border-pine bg-pine-soft' },
}
</script>

<template>
  <div class="border-l-4 px-4 py-3" :class="TONES[verdict.kind].class" data-testid="verdict">
    <p class="text-lg font-semibold">
      <span aria-hidden="true">{{ TONES[verdict.kind].sign }}</span> {{ verdict.title }}
    </p>
    <p v-for="reason in verdict.reasons" :key="reason" class="max-w-[72ch]">{{ unbroken(reason) }}</p>
  </div>
</template>
