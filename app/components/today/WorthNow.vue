<script setup lang="ts">
import { candidatesInWords } from '~/data/candidatesInWords'

/** The first of what stands out by itself in the days that are chosen. */
const props = defineProps<{ siteId: number }>()
const MOST = 3
const { api, filter } = useEvidence(props.siteId)
const days = computed(() => ({ from: filter.value.from, to: filter.value.to }))
const {
  value: found,
  problem,
  reload,
} = useLoaded(() => api('reportCandidates', { site: props.siteId, query: days.value }))
const shown = computed(() => (found.value ? candidatesInWords(found.value, days.value) : []))
</script>

<template>
  <section v-if="shown.length > 0 || problem" aria-labelledby="worth">
    <h2 id="worth" class="mb-2">Worth a look</h2>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <ul v-else class="border-t border-line">
      <li v-for="each in shown.slice(0, MOST)" :key="each.key" class="border-b border-line px-2 py-2.5">
        <NuxtLink :to="`/sites/${siteId}/evidence/${each.place}`" class="font-semibold break-words hover:underline">{{
          each.title
        }}</NuxtLink>
        <span class="block text-sm text-ink-soft">{{ each.why }}</span>
      </li>
    </ul>
    <NuxtLink
      v-if="!problem && shown.length > MOST"
      :to="`/sites/${siteId}/evidence/findings`"
      class="mt-2 inline-block font-medium text-accent underline"
      >All {{ shown.length }}</NuxtLink
    >
  </section>
</template>
