<script setup lang="ts">
import type { ShippedWorth } from '~~/shared/hypotheses/replies'

/** What leads to a finding, hypothesis, experiment or rollout, and what follows from it: each a step that can be walked to. */
const props = defineProps<{ siteId: number; of: 'finding' | 'hypothesis' | 'experiment' | 'rollout'; id: number }>()
const api = useApi()
const {
  value: thread,
  reload,
  problem,
} = useLoaded(() => api('readThread', { site: props.siteId, query: { [props.of]: props.id } }))
defineExpose({ reload })
const base = computed(() => `/sites/${props.siteId}`)
interface Step {
  key: string
  kind: string
  label: string
  to: string
  note: string
  isHere: boolean
  /** Of what is served. */
  worth?: ShippedWorth | null
}
const worthOf = (id: number) => thread.value?.worths.find(({ experiment }) => experiment === id) ?? null
const steps = computed<Step[]>(() => {
  if (!thread.value) return []
  const { findings, hypotheses, experiments, rollouts } = thread.value
  const here = (kind: typeof props.of, id: number) => props.of === kind && props.id === id
  return [
    ...findings.map(({ id, title }) => ({
      key: `finding ${id}`,
      kind: 'Finding',
      label: title,
      note: '',
      isHere: here('finding', id),
      to: `${base.value}/evidence/findings/${id}`,
    })),
    ...hypotheses.map(({ id, title, stage }) => ({
      key: `hypothesis ${id}`,
      kind: 'Hypothesis',
      label: title,
      note: stage,
      isHere: here('hypothesis', id),
      to: `${base.value}/hypotheses/${id}`,
    })),
    ...experiments.map(({ id, name, purpose, state, kept }) => ({
      key: `experiment ${id}`,
      kind: purpose === 'serve' ? 'Rollout' : 'Experiment',
      label: name,
      isHere: here('experiment', id),
      note: kept ? `${state}; ${kept} was kept` : state,
      worth: purpose === 'serve' ? worthOf(id) : null,
      to: `${base.value}/experiments/${id}`,
    })),
    ...rollouts.map(({ id, variant, isOn, share, experiment }) => ({
      key: `rollout ${id}`,
      kind: 'Rollout',
      label: variant,
      isHere: here('rollout', id),
      note: isOn ? `served to ${formatPercent(share / 10_000)}` : 'stopped',
      worth: worthOf(experiment),
      to: `${base.value}/rollouts/${id}`,
    })),
  ]
})
const groups = computed(() =>
  ['Finding', 'Hypothesis', 'Experiment', 'Rollout'].map((kind) => ({
    kind,
    steps: steps.value.filter((each) => each.kind === kind),
  })),
)
const MISSING: Record<string, string> = {
  Finding: 'no finding',
  Hypothesis: 'no hypothesis yet',
  Experiment: 'no experiment yet',
  Rollout: 'no rollout yet',
}
const MOST = 3
</script>

<template>
  <nav v-if="thread && !problem" aria-label="Thread" class="mb-5 border-b border-line pb-3 text-sm">
    <ol class="grid gap-x-5 gap-y-2 sm:grid-cols-2 lg:grid-cols-4">
      <li v-for="(group, index) in groups" :key="group.kind" class="flex min-w-0 items-start gap-3">
        <span v-if="index > 0" class="text-ink-soft" aria-hidden="true">→</span>
        <span class="min-w-0">
          <span class="block text-xs text-ink-soft">{{ group.kind }}</span>
          <span v-if="group.steps.length === 0" class="text-ink-soft">{{ MISSING[group.kind] }}</span>
          <span v-for="step in group.steps.slice(0, MOST)" :key="step.key" class="block break-words">
            <strong v-if="step.isHere" aria-current="page">{{ step.label }}</strong>
            <NuxtLink v-else :to="step.to" class="text-accent underline">{{ step.label }}</NuxtLink>
            <span v-if="step.note" class="text-ink-soft">&nbsp;{{ step.note }}</span>
            <ShippedWorthNote v-if="step.worth" :site-id="siteId" :worth="step.worth" />
          </span>
          <span v-if="group.steps.length > MOST" class="block text-ink-soft"
            >and {{ group.steps.length - MOST }} more</span
          >
        </span>
      </li>
    </ol>
  </nav>
</template>
