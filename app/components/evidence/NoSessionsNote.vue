<script setup lang="ts">
import type { EvidenceChoices } from '~~/shared/evidence/replies'

/** No session is in a report: the filter lets none in, or none has ever come. */
defineProps<{ siteId: number; choices: EvidenceChoices | null }>()
</script>

<template>
  <EmptyNote v-if="choices && !choices.hasReported" text="No visitor has come yet. Put the script line on your pages.">
    <NuxtLink :to="`/sites/${siteId}/setup/site`" class="font-medium text-accent underline"
      >Copy the script line</NuxtLink
    >
  </EmptyNote>
  <EmptyNote v-else text="No session matches. Choose more days or fewer conditions." />
</template>
