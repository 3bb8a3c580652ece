<script setup lang="ts">
import type { PlannedReading } from '~~/core/verdict/plannedLooks'

/** Of which look an interval is, when the next is due, and what the lift is without the luck of stopping early. */
const props = defineProps<{ look: PlannedReading | null; nextLookAt: string | null; timeZone: string }>()
const next = computed(() => (props.nextLookAt === null ? null : formatTime(props.nextLookAt, props.timeZone)))
const planned = computed(() => (props.look ? formatShare(Math.min(1, props.look.share), 0) : ''))
</script>

<template>
  <p class="text-sm text-ink-soft" data-testid="planned-look">
    <template v-if="look"
      >The lift is as of now; interval and p-value are of the {{ look.isLast ? 'last look' : 'look' }} after day
      {{ look.daysRun }}, with {{ planned }} of the planned information.
    </template>
    <template v-if="next">The {{ look ? 'next' : 'first' }} look is on {{ next }}.</template>
    <template v-if="look?.adjusted">
      Adjusted for stopping there, the lift is {{ formatLift(look.adjusted.lift) }} ({{
        formatInterval(look.adjusted.interval)
      }}).</template
    >
  </p>
</template>
