<script setup lang="ts">
import type { MetricDefinition } from '~~/core/measurement/metric'

/** What a definition came to in four weeks, and the latest events that it counts. */
const props = defineProps<{ siteId: number; definition: Required<MetricDefinition> }>()
const api = useApi()
const {
  value: trial,
  problem,
  isLoading,
  reload,
} = useLoaded(() => api('tryMetric', { site: props.siteId, body: { ...props.definition } }))
watch(() => JSON.stringify(props.definition), reload)
</script>

<template>
  <section aria-label="What it counts">
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!trial" />
    <div v-else :aria-busy="isLoading">
      <p>
        <strong>{{ formatMetric(definition, trial.figures.value, trial.currency) }}</strong>
        in four weeks: {{ formatCount(trial.figures.converters) }} of
        {{ formatCount(trial.figures.visitors) }} visitors.
        <template v-if="trial.figures.visibleLift !== null">
          A test of all of them would show a lift of
          {{ formatPercent(Number(trial.figures.visibleLift.toPrecision(2))) }}
          in that time.
        </template>
      </p>
      <p v-if="trial.sample.length === 0" class="mt-2 text-rust">It counted nothing lately. Check what it counts.</p>
      <details v-else class="mt-2" open>
        <summary class="cursor-pointer text-ink-soft">The latest that it counts</summary>
        <ul class="mt-1 flex flex-col">
          <li
            v-for="(event, place) in trial.sample"
            :key="place"
            class="flex flex-wrap gap-x-3 border-b border-line py-1 text-sm"
          >
            <span class="text-ink-soft">{{ formatTime(event.at, trial.timeZone) }}</span>
            <span class="min-w-0 break-words">{{ event.what ? `${event.what} on ${event.page}` : event.page }}</span>
            <span v-if="event.amount !== null" class="ml-auto">{{ formatAmount(event.amount, trial.currency) }}</span>
          </li>
        </ul>
      </details>
    </div>
  </section>
</template>
