<script setup lang="ts">
import type { AroundDay } from '~~/core/history/aroundDay'

/** How a measure stood before and after a day, in words: of all visitors, or of each line of the chart. */
defineProps<{
  /** With the name of the line; null where there is one of all. */
  arounds: readonly { line: string | null; around: AroundDay | null }[]
  measure: string
  format: (value: number) => string
}>()
</script>

<template>
  <p v-if="!arounds.some(({ around }) => around)" class="max-w-[72ch] text-sm text-ink-soft">
    There are too few days around it.
  </p>
  <div v-else class="max-w-[72ch]" data-testid="around">
    <ul>
      <li v-for="{ line, around } in arounds" :key="line ?? ''">
        <template v-if="line !== null">{{ line }}: </template><template v-else>{{ measure }}: </template>
        <template v-if="around"
          >{{ format(around.before.mean) }} on the {{ countOf(around.before.days, 'day') }} before,
          {{ format(around.after.mean) }} on the {{ countOf(around.after.days, 'day') }} after<template
            v-if="around.lift !== null"
            >: {{ formatLift(around.lift)
            }}<template v-if="around.interval"> ({{ formatInterval(around.interval) }})</template></template
          >.</template
        >
        <template v-else>too few days around it.</template>
      </li>
    </ul>
    <p class="text-sm text-ink-soft">
      Means of the same weekdays. Whatever else changed at that time is in it, too: it is no proof.
    </p>
  </div>
</template>
