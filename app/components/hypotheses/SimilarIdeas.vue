<script setup lang="ts">
import type { LinkedExperiment, Similar } from '~~/shared/hypotheses/replies'

/** What the archive answers while somebody writes: what is alike, and what came of it. */
const props = defineProps<{ siteId: number; text: string; except?: number }>()
const api = useApi()
const {
  value: found,
  problem,
  reload,
} = useLoaded<Similar | null>(async () => {
  const text = props.text.trim().slice(0, 1000)
  if (text.length < 4) return null
  const query = { text, ...(props.except === undefined ? {} : { except: props.except }) }
  return api('findSimilar', { site: props.siteId, query })
})
watchDebounced(() => props.text, reload, { debounce: 300 })
const isEmpty = computed(
  () => found.value !== null && found.value.hypotheses.length + found.value.experiments.length === 0,
)
const came = ({ state, verdict, lift, kept }: LinkedExperiment) => {
  if (state === 'draft') return 'a draft'
  const said = [state, verdict?.toLowerCase(), lift === null ? null : formatLift(lift)].filter(Boolean).join(', ')
  return kept ? `${said}; ${kept} was kept` : said
}
</script>

<template>
  <section aria-labelledby="similar" aria-live="polite">
    <h2 id="similar" class="mb-2">Similar ideas</h2>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <p v-else-if="!found" class="text-sm text-ink-soft">Similar ideas and tests appear here while you write.</p>
    <p v-else-if="isEmpty" class="text-sm text-ink-soft">No similar idea or test.</p>
    <ul v-else class="flex flex-col gap-2 text-sm">
      <li v-for="each in found.hypotheses" :key="`hypothesis ${each.id}`">
        <NuxtLink :to="`/sites/${siteId}/hypotheses/${each.id}`" class="text-accent hover:underline">{{
          each.title
        }}</NuxtLink>
        <span class="block text-ink-soft"
          >Hypothesis, {{ each.stage
          }}<template v-if="each.stage === 'set aside' && each.stageReason">: {{ each.stageReason }}</template
          ><template v-if="each.experiment"> · {{ each.experiment.name }}: {{ came(each.experiment) }}</template></span
        >
      </li>
      <li v-for="each in found.experiments" :key="`experiment ${each.id}`">
        <NuxtLink :to="`/sites/${siteId}/experiments/${each.id}`" class="text-accent hover:underline">{{
          each.name
        }}</NuxtLink>
        <span class="block text-ink-soft">Experiment, {{ came(each) }}</span>
      </li>
    </ul>
  </section>
</template>
