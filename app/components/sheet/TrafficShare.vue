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
const state = computed<FieldState>(() => {
  const own = props.traffic.state('share')
  const { conflict } = own
  return conflict ? { ...own, conflict: { ...conflict, theirs: Number(conflict.theirs) / 10_000 } } : own
})
</script>

<template>
  <PercentField
    v-model="share"
    class="w-40"
    label="Traffic share"
    :hint="hint"
    :state="state"
    @commit="traffic.commit"
  />
</template>
