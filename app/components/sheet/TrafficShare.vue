<script setup lang="ts">
import { BUCKETS } from '~~/core/assignment/assignment'
import type { SheetContent } from '~~/core/sheet/content'

/** The traffic share of a sheet. */
const props = defineProps<{ traffic: ReturnType<typeof useSheetThing<SheetContent>>; hint?: string }>()
const share = computed({
  get: () => {
    const typed: unknown = props.traffic.draft.value.share
    return typeof typed === 'number' ? typed : String(typed ?? '')
  },
  set: (value: number | string) => {
    const draft = props.traffic.draft.value as { share: unknown }
    draft.share = value
  },
})
const state = computed<FieldState>(() => {
  const own = props.traffic.state('share')
  const { conflict } = own
  return conflict ? { ...own, conflict: { ...conflict, theirs: Number(conflict.theirs) / BUCKETS } } : own
})
</script>

<template>
  <ShareField v-model="share" label="Traffic share" :hint="hint" :state="state" @commit="traffic.commit" />
</template>
