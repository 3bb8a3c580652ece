<script setup lang="ts">
import type { ExperimentSummary } from '~~/shared/experiments/replies'

/** Experiments with the day of their run, the track of their best variant, and the verdict. */
const props = defineProps<{ experiments: readonly ExperimentSummary[]; siteId: number; timeZone: string }>()
const domain = computed(() =>
  symmetricDomain(props.experiments.flatMap((each) => each.best?.interval ?? []).map(Math.abs), 0.1),
)
</script>

<template>
  <ul class="border-t border-line">
    <li
      v-for="each in experiments"
      :key="each.id"
      class="grid items-center gap-x-5 gap-y-1 border-b border-line px-2 py-2.5 sm:grid-cols-[minmax(0,1fr)_10rem_minmax(8rem,12rem)]"
    >
      <span class="min-w-0">
        <NuxtLink :to="`/sites/${siteId}/experiments/${each.id}`" class="font-semibold hover:underline">{{
          each.name
        }}</NuxtLink>
        <span class="block text-sm text-ink-soft"
          >{{ each.state === 'paused' ? 'paused, ' : '' }}{{ runInWords(each, timeZone) }};
          {{ formatCount(each.visitors) }} visitors</span
        >
      </span>
      <span>
        <IntervalTrack
          v-if="each.best"
          small
          :class="{ 'opacity-40': each.verdict?.kind === 'distrust' }"
          :interval="each.best.interval"
          :estimate="each.best.lift"
          :smallest-lift="each.smallestLift"
          :domain="domain"
        />
      </span>
      <span>{{ each.verdict?.title ?? 'Nobody yet' }}</span>
    </li>
  </ul>
</template>
