<script setup lang="ts">
import type { ExperimentSheet } from '~~/shared/experiments/replies'

/** What a personalization is read by, as sentences. */
const props = defineProps<{ sheet: ExperimentSheet }>()
const PAUSES = {
  target: 'a redirect that fails',
  harm: 'a harmed guardrail',
  split: 'a broken split',
  both: 'a harmed guardrail or a broken split',
}
const pausesFor = computed(() => PAUSES[props.sheet.plan.pausesFor ?? 'target'])
</script>

<template>
  <SheetSection name="decided" title="Watched" note="Its effect is read every day, on all metrics of the site.">
    <p class="max-w-[72ch]">
      A lift of {{ formatLift(sheet.plan.smallestLift) }} or more is worth having. It pauses itself for {{ pausesFor }}.
    </p>
  </SheetSection>
</template>
