<script setup lang="ts">
import type { SheetContent } from '~~/core/sheet/content'

/** The traffic share in percent; the sheet counts buckets of 10,000. */
const props = defineProps<{ traffic: ReturnType<typeof useSheetThing<SheetContent>>; hint?: string }>()
const share = computed({
  get: () => {
    const typed: unknown = props.traffic.draft.value.share
    return typeof typed === 'number' ? typed / 10_000 : String(typed ?? '')
  },
  set: (value: number | string | null) => {
    const draft = props.traffic.draft.value as { share: unknown }
    draft.share = typeof value === 'number' ? Number((value * 10_000).toFixed(6)) : value
  },
})
const slider = computed({
  get: () => (typeof share.value === 'number' ? Math.round(share.value * 100) : 0),
  set: (percent: number) => (share.value = percent / 100),
})
const state = computed<FieldState>(() => {
  const own = props.traffic.state('share')
  const { conflict } = own
  return conflict ? { ...own, conflict: { ...conflict, theirs: Number(conflict.theirs) / 10_000 } } : own
})
</script>

<template>
  <div class="flex flex-col gap-1">
    <PercentField
      v-model="share"
      class="w-40"
      label="Traffic share"
      :hint="hint"
      :state="state"
      @commit="traffic.commit"
    />
    <input
      v-model.number="slider"
      class="h-6 w-40 accent-accent"
      type="range"
      min="0"
      max="100"
      aria-label="Share by slider"
      @change="traffic.commit"
    />
  </div>
</template>
