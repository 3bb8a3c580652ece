<script setup lang="ts">
import type { AllocationCheck } from '~~/core/statistics/allocation'
import type { ArmView } from '~~/shared/experiment'

const props = defineProps<{ allocation: AllocationCheck; arms: readonly ArmView[]; crossed: number }>()
const words = computed(() => props.arms.map((arm, index) => `${arm.name} ${formatCount(arm.visitors)} of ${formatCount(Math.round(props.allocation.expected[index] ?? 0))} expected`).join('; '))
</script>

<template>
  <div class="text-sm" data-testid="allocation">
    <p :class="allocation.alarm ? 'font-semibold text-rust' : ''">
      <span aria-hidden="true">{{ allocation.alarm ? '✕' : '✓' }}</span>
      {{ allocation.alarm ? 'Sample ratio mismatch: the split is not what was set.' : 'The split is as it was set.' }}
    </p>
    <p class="text-ink-soft">{{ words }}. χ² = {{ allocation.chiSquare.toFixed(2) }}, {{ formatPEquals(allocation.pValue) }} for one look, {{ formatPEquals(allocation.sequentialPValue) }} however often one looks; alarm below 0.001.</p>
    <p v-if="crossed > 0" class="text-ink-soft">{{ formatCount(crossed) }} visitor{{ crossed === 1 ? ' was' : 's were' }} seen in more than one variant and counted in the first.</p>
  </div>
</template>
