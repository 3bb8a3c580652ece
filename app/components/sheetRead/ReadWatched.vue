<script setup lang="ts">
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import { SELF_PAUSE_WORDS } from '~/sheets/ruleWords'

/** What a personalization is read by, as sentences. */
const props = defineProps<{ sheet: ExperimentSheet }>()
const pausesFor = computed(() => SELF_PAUSE_WORDS[props.sheet.plan.pausesFor ?? 'target'])
</script>

<template>
  <SheetSection name="decided" title="Watched" note="Its effect is read every day, on all metrics of the site.">
    <p class="max-w-[72ch]">
      A lift of {{ formatLift(sheet.plan.smallestLift) }} or more is worth having. It pauses itself for {{ pausesFor }}.
    </p>
  </SheetSection>
</template>
