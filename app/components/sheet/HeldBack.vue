<script setup lang="ts">
import { BUCKETS } from '~~/core/assignment/assignment'
import type { SheetVariant } from '~~/core/sheet/content'
import { MOST_HELD_BACK } from '~~/core/sheet/heldBack'

/** The share of its visitors who never get a personalization, so that its effect is known: the control's weight. */
const props = defineProps<{ control: SheetVariant }>()
const { draft, commit, state } = useSheetThing<SheetVariant>(
  () => ({ part: 'variants', id: props.control.id }),
  [['weight']],
)
const share = computed({
  get: () => {
    const typed: unknown = draft.value.weight
    return typeof typed === 'number' ? typed / BUCKETS : String(typed ?? '')
  },
  set: (value: number | string | null) => {
    const own = draft.value as { weight: unknown }
    own.weight = typeof value === 'number' ? Number((value * BUCKETS).toFixed(6)) : value
  },
})
const own = computed(() => state('weight'))
const problem = computed(() => {
  if (typeof share.value !== 'number') return 'Type the share in percent.'
  if (share.value < 0) return 'The share is at least 0 %.'
  return share.value > MOST_HELD_BACK / BUCKETS
    ? 'At most half are held back. To split evenly, make an experiment.'
    : undefined
})
</script>

<template>
  <PercentField
    v-model="share"
    class="w-64"
    label="Held back"
    hint="They see the original for good, so that the effect is known."
    :error="problem"
    :state="own.conflict ? own : undefined"
    @commit="commit"
  />
</template>
