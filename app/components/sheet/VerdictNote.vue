<script setup lang="ts">
import type { ReachedVerdict } from '~~/core/verdict/reachedVerdict'
import type { Verdict, VerdictKind } from '~~/core/verdict/verdict'

/** What to do, why, by which numbers that was decided, and what came after. */
defineProps<{ verdict: Verdict; reached: ReachedVerdict | null; since: Verdict | null; timeZone: string }>()
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
const RULES: Record<ReachedVerdict['rule'], string> = {
  spending: 'rule of the planned end, at the day’s look',
  sequential: 'sequential rule',
  fixed: 'fixed rule, in its one look',
  'low-risk': 'low-risk rule',
}
const inWords = ({ name, lift, interval, adjusted }: ReachedVerdict['variants'][number]) => {
  const read = `${name}: ${formatLift(lift)}${interval ? ` (${formatInterval(interval)})` : ''}`
  return adjusted ? `${read}, adjusted for stopping ${formatLift(adjusted.lift)}` : read
}
</script>

<template>
  <div class="border-l-4 px-4 py-3" :class="TONES[verdict.kind].class" data-testid="verdict">
    <p class="text-lg font-semibold">
      <span aria-hidden="true">{{ TONES[verdict.kind].sign }}</span> {{ verdict.title }}
    </p>
    <p v-for="reason in verdict.reasons" :key="reason" class="max-w-[72ch]">{{ unbroken(reason) }}</p>
    <p v-if="reached" class="mt-1 max-w-[72ch] text-sm text-ink-soft" data-testid="reached">
      <template v-if="verdict.kind === 'distrust'">Before: {{ reached.verdict.title }}. </template>Reached on
      {{ formatDate(reached.at, timeZone) }} with {{ formatCount(reached.visitors) }} visitors, by the
      {{ RULES[reached.rule] }}. {{ unbroken(reached.variants.map(inWords).join('; ')) }}
    </p>
    <p v-if="since" class="max-w-[72ch] text-sm text-ink-soft" data-testid="since">
      The numbers since then say: {{ since.title }}. The verdict stays as it was reached.
    </p>
  </div>
</template>
