<script setup lang="ts">
import { BANDS } from '~~/core/evidence/behavior'
import { durationInWords } from '~/data/durations'
import type { ReadingView } from '~~/shared/evidence/reports'

/** How far a page is read, or how long its parts are looked at: a ruler at its side, and the page fades where few do. */
const props = defineProps<{ report: ReadingView; kind: 'reach' | 'attention'; height: number }>()
const most = computed(() => Math.max(1e-9, ...props.report.attention))
const bands = computed(() =>
  Array.from({ length: BANDS }, (_, band) => {
    const share = props.report.sessions === 0 ? 0 : props.report.reach[band]! / props.report.sessions
    const strength = props.kind === 'reach' ? share : props.report.attention[band]! / most.value
    const words = props.kind === 'reach' ? formatShare(share, 0) : durationInWords(props.report.attention[band]!)
    return { band, strength, words }
  }),
)
const isTold = (band: number) => band % 2 === 0
</script>

<template>
  <div class="pointer-events-none absolute inset-0" data-testid="reading">
    <div
      v-for="{ band, strength, words } in bands"
      :key="band"
      class="absolute inset-x-0 border-t border-line-strong"
      :style="{ top: `${(band / BANDS) * height}px`, height: `${height / BANDS}px` }"
    >
      <div class="absolute inset-0 bg-ink" :style="{ opacity: 0.8 * (1 - strength) }" />
      <div class="absolute inset-y-0 left-0 bg-accent" :style="{ width: `${4 + 20 * strength}px` }" />
      <span v-if="isTold(band)" class="absolute top-0.5 left-7 rounded bg-ink px-1 text-xs font-semibold text-ground">{{
        words
      }}</span>
    </div>
  </div>
</template>
