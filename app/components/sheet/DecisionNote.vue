<script setup lang="ts">
import type { ExperimentSheet } from '~~/shared/experiments/replies'

/** What was decided at the end. */
const props = defineProps<{ sheet: ExperimentSheet; mayEdit: boolean }>()
const position = computed(() => props.sheet.variants.findIndex(({ id }) => id === props.sheet.decision?.variant))
const kept = computed(() => props.sheet.variants[position.value] ?? null)
</script>

<template>
  <div v-if="sheet.decision" class="max-w-[72ch]" data-testid="decision">
    <p class="flex flex-wrap items-center gap-x-2">
      <span class="font-semibold">Decided:</span>
      <template v-if="kept"><VariantMark :position="position" /> {{ kept.name }} is kept</template>
      <template v-else>nothing</template>
      <span v-if="sheet.endedAt" class="text-ink-soft"
        >{{ formatDate(sheet.endedAt, sheet.timeZone)
        }}{{ sheet.decision.person ? `, ${sheet.decision.person}` : '' }}</span
      >
    </p>
    <p v-if="sheet.decision.reason" class="whitespace-pre-line">{{ sheet.decision.reason }}</p>
    <StartRollout :sheet="sheet" :may-edit="mayEdit" />
  </div>
</template>
