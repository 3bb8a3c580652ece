<script setup lang="ts">
import type { EvidenceChoices } from '~~/shared/evidence/replies'

/** Says that figures of behavior are of a part of the visitors, where they are. */
const props = defineProps<{
  choices: EvidenceChoices | null
  /** Which figures they are. */
  what?: string
}>()
const isPart = computed(() => props.choices !== null && props.choices.behaviorShare < 10_000)
</script>

<template>
  <p v-if="isPart" class="text-sm text-ink-soft" data-testid="sample">
    {{ what ?? 'These figures' }} are from a sample: behavior is collected for
    {{ formatShare(choices!.behaviorShare / 10_000, 0) }} of visitors.
  </p>
</template>
