<script setup lang="ts">
import { describeMetric } from '~~/core/measurement/metric'
import type { ChosenMetric } from '~/sheets/freshThings'

/** Metrics that can join a sheet: those of the site, those that its events suggest, or a new one. */
const props = defineProps<{
  siteId: number
  /** Ids of those on the sheet already. */ taken: readonly string[]
}>()
const emit = defineEmits<{
  choose: [metric: ChosenMetric]
  write: []
  close: []
}>()
const api = useApi()
const { value: entries, problem, reload } = useLoaded(() => api('listMetrics', { site: props.siteId }))
const { value: proposals } = useLoaded(() => api('proposeMetrics', { site: props.siteId }))
const search = ref('')
const tried = ref<string | null>(null)
const isFound = (name: string) => name.toLowerCase().includes(search.value.trim().toLowerCase())
const groups = computed(() => [
  {
    name: 'Of this site',
    note: 'Compared with earlier experiments, and over time.',
    metrics: (entries.value ?? [])
      .filter(({ id, name }) => !props.taken.includes(id) && isFound(name))
      .map(({ id, name, kind, source, denominator, cap, windowDays }) => ({
        key: id,
        id,
        name,
        kind,
        source,
        denominator,
        cap,
        windowDays,
        direction: 'up' as const,
        reason: '',
      })),
  },
  {
    name: 'From what arrives',
    note: 'Not measured yet.',
    metrics: (proposals.value ?? [])
      .filter(({ name }) => isFound(name))
      .map((proposal) => ({ ...proposal, key: `${proposal.kind} ${proposal.name}`, id: null })),
  },
])
</script>

<template>
  <PlainDialog :open="true" title="Add a metric" is-wide @update:open="emit('close')">
    <TextField v-model="search" class="mb-4 max-w-sm" label="Search" />
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <!-- As high as the list from the beginning: the buttons below do not move away from under the pointer. -->
    <div v-else-if="!entries" class="h-[60dvh]"><LoadingNote /></div>
    <div
      v-else
      class="flex h-[60dvh] flex-col gap-5 overflow-y-auto pr-1"
      tabindex="0"
      role="group"
      aria-label="Metrics to choose from"
    >
      <section v-for="group in groups" :key="group.name" :aria-label="group.name">
        <h3>
          {{ group.name }} <span class="text-sm font-normal text-ink-soft">{{ group.note }}</span>
        </h3>
        <p v-if="group.metrics.length === 0" class="text-ink-soft">None{{ search ? ' of that name' : '' }}.</p>
        <ul>
          <li v-for="metric in group.metrics" :key="metric.key" class="border-b border-line py-2">
            <div class="flex flex-wrap items-center gap-x-3">
              <div class="min-w-0 flex-1 basis-60">
                <p class="font-medium">{{ metric.name }}</p>
                <p class="text-sm break-words text-ink-soft">
                  {{ metric.reason || describeMetric(metric).split(';')[0] }}
                </p>
              </div>
              <BaseButton
                kind="quiet"
                :aria-expanded="tried === metric.key"
                @click="tried = tried === metric.key ? null : metric.key"
                >See what it counts</BaseButton
              >
              <BaseButton :aria-label="`Add ${metric.name}`" @click="emit('choose', metric)">Add</BaseButton>
            </div>
            <MetricTrialPanel
              v-if="tried === metric.key"
              class="mt-2 border-l-2 border-line-strong pl-3"
              :site-id="siteId"
              :definition="{
                kind: metric.kind,
                source: metric.source,
                denominator: metric.denominator,
                cap: metric.cap,
                windowDays: metric.windowDays,
              }"
            />
          </li>
        </ul>
      </section>
    </div>
    <template #actions>
      <BaseButton kind="quiet" @click="emit('close')">Cancel</BaseButton>
      <BaseButton @click="emit('write')">Write a new one</BaseButton>
    </template>
  </PlainDialog>
</template>
