<script setup lang="ts">
import type { AroundDay } from '~~/core/history/aroundDay'

/** How a measure stood before and after a day, in words. */
defineProps<{ around: AroundDay | null; measure: string; format: (value: number) => string }>()
</script>

<template>
  <p v-if="!around" class="max-w-[72ch] text-sm text-ink-soft">
    There are too few days around it, or the chart is split or not by day.
  </p>
  <div v-else class="max-w-[72ch]" data-testid="around">
    <p>
      {{ measure }}: {{ format(around.before.mean) }} on the {{ countOf(around.before.days, 'day') }} before,
      {{ format(around.after.mean) }} on the {{ countOf(around.after.days, 'day') }} after<template
        v-if="around.lift !== null"
        >: {{ formatLift(around.lift)
        }}<template v-if="around.interval"> ({{ formatInterval(around.interval) }})</template></template
      >.
    </p>
    <p class="text-sm text-ink-soft">
      Means of the same weekdays. Whatever else changed at that time is in it, too: it is no proof.
    </p>
  </div>
</template>
