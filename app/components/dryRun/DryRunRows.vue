<script setup lang="ts">
import type { DryRunRow, DryRunView } from '~~/shared/audiences/replies'
import type { ConditionNames } from '~~/core/targeting/conditionWords'

/** What a made-up visitor would get of each thing, and why. */
const props = defineProps<{ siteId: number; view: DryRunView; names?: ConditionNames }>()
const takesPart = ({ reason }: DryRunRow) => reason === null || reason === 'waits'
/** What the visitor gets comes first. */
const rows = computed(() => [...props.view.rows.filter(takesPart), ...props.view.rows.filter((row) => !takesPart(row))])
const REASONS = {
  page: 'not on this page',
  audience: 'not in the audience',
  person: 'the page has not named the person',
  holdout: 'kept out by a holdout',
  test: 'left to a test beside it',
  group: 'another experiment of its group has this visitor',
  share: 'outside of the traffic share',
  waits: 'waits',
}
const KINDS = {
  experiment: 'Experiment',
  rollout: 'Rollout',
  survey: 'Survey',
  recording: 'Collection',
  behavior: 'Collection',
}
function words({ reason, variant, activation }: DryRunRow): string {
  if (reason === 'waits') return `${variant}, ${activation}`
  return reason === null ? (variant ?? 'takes part') : `no: ${REASONS[reason]}`
}
</script>

<template>
  <ul class="flex flex-col" aria-label="What this visitor would get">
    <li v-for="row in rows" :key="`${row.kind} ${row.id}`" class="flex flex-col gap-1 border-t border-line py-3">
      <p class="flex flex-wrap items-baseline gap-x-3">
        <NuxtLink
          v-if="row.kind === 'experiment' || row.kind === 'rollout'"
          :to="`/sites/${siteId}/${row.kind}s/${row.id}`"
          class="font-medium text-accent underline"
          >{{ row.name }}</NuxtLink
        >
        <span v-else class="font-medium">{{ row.name }}</span>
        <StateBadge v-if="row.kind === 'experiment'" :state="row.state" />
        <span v-else class="text-sm text-ink-soft">{{ KINDS[row.kind] }}</span>
        <span class="ml-auto" :class="takesPart(row) ? 'text-pine' : 'text-ink-soft'">{{ words(row) }}</span>
      </p>
      <details v-if="row.trace" :open="row.reason === 'audience'">
        <summary class="cursor-pointer text-sm text-ink-soft">Conditions</summary>
        <TraceTree :trace="row.trace" :names="names" />
      </details>
    </li>
  </ul>
</template>
