<script setup lang="ts">
import type { SheetVariant } from '~~/core/sheet/content'

const props = defineProps<{ variant: SheetVariant; position: number; total: number }>()
const { draft, commit, state } = useSheetThing<SheetVariant>(
  () => ({ part: 'variants', id: props.variant.id }),
  [['weight']],
)
/** Weights are relative: a slider reaches from one part to a hundred, or as far as they already go. */
const most = computed(() => Math.max(100, props.total))
</script>

<template>
  <div class="flex items-start gap-2">
    <VariantMark class="mt-2" :position="position" />
    <TextField
      v-model="draft.weight"
      class="w-20 [&_p]:w-max [&_p]:max-w-40"
      :label="`Weight of ${variant.name}`"
      :state="state('weight')"
      numeric
      is-bare
      @commit="commit"
    />
    <input
      v-model.number="draft.weight"
      class="mt-1.5 h-6 w-24 accent-accent"
      type="range"
      min="1"
      :max="most"
      :aria-label="`${variant.name} by slider`"
      @change="commit"
    />
    <span class="mt-1.5 w-16 text-ink-soft">{{ formatShare(total > 0 ? variant.weight / total : 0, 1) }}</span>
  </div>
</template>
