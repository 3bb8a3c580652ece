<script setup lang="ts">
import type { ExclusionGroupView } from '~~/shared/traffic/replies'
import { BUCKETS } from '~~/core/assignment/assignment'
import { variantToken } from '~/charts/variantShapes'

/** Who has which part of the visitors of a group, from the first bucket to the last. */
const props = defineProps<{ group: ExclusionGroupView }>()
const PLACES = 5
const parts = computed(() =>
  props.group.members.flatMap((member, index) =>
    member.ranges.map(([from, to]) => ({
      key: `${member.experiment} ${from}`,
      name: member.name,
      place: index + 1,
      color: `var(${variantToken((index % PLACES) + 1)})`,
      left: (from / BUCKETS) * 100,
      width: ((to - from) / BUCKETS) * 100,
    })),
  ),
)
const words = computed(() => {
  const taken = parts.value.map(({ name, width }) => `${name} ${formatShare(width / 100, 1)}`)
  return [...taken, `free ${formatShare((props.group.free ?? 0) / BUCKETS, 1)}`].join(', ')
})
</script>

<template>
  <div role="img" :aria-label="`Parts of the visitors: ${words}`">
    <div class="relative h-7 rounded border border-line-strong bg-ground">
      <span
        v-for="part in parts"
        :key="part.key"
        class="absolute inset-y-0 flex items-center justify-center border-r-2 border-raised text-xs"
        :style="{ left: `${part.left}%`, width: `${part.width}%`, backgroundColor: part.color }"
        :title="part.name"
      >
        <span v-if="part.width > 3" class="rounded bg-raised px-1 font-mono">{{ part.place }}</span>
      </span>
    </div>
    <p class="mt-0.5 grid grid-cols-3 text-xs text-ink-soft" aria-hidden="true">
      <span>0 %</span><span class="text-center">50 %</span><span class="text-right">100 % of the visitors</span>
    </p>
  </div>
</template>
