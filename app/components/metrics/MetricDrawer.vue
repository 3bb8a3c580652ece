<script setup lang="ts">
import type { MetricEntry } from '~~/shared/metrics/replies'
import { describeMetric } from '~~/core/measurement/metric'

/** Everything about one metric: definition, value, the events that it counts, who uses it, and its name. */
const props = defineProps<{
  siteId: number
  entry: MetricEntry
  mayEdit: boolean
}>()
const emit = defineEmits<{ close: []; renamed: [] }>()
const api = useApi()
const name = ref(props.entry.name)
const { errors, isSaving, save } = useSaving()
const definition = computed(() => ({
  kind: props.entry.kind,
  source: props.entry.source,
  denominator: props.entry.denominator,
  cap: props.entry.cap,
  windowDays: props.entry.windowDays,
}))
const rename = () =>
  save(async () => {
    await api('renameMetric', { site: props.siteId, metric: props.entry.id, body: { name: name.value } })
    useNoticesStore().show('Renamed the metric.')
    emit('renamed')
  })
</script>

<template>
  <SideDrawer :open="true" :title="entry.name" @update:open="emit('close')">
    <div class="flex flex-col gap-6">
      <p>
        Counts {{ describeMetric(entry) }}.
        <span v-if="entry.version > 1" class="text-ink-soft">
          This is its version {{ entry.version }}; experiments that started earlier keep theirs.
        </span>
      </p>
      <NuxtLink
        :to="{ path: `/sites/${siteId}/evidence/visitors`, query: { metric: entry.id } }"
        class="text-accent underline"
        >See it over time, with what happened on each day</NuxtLink
      >
      <MetricTrialPanel :site-id="siteId" :definition="definition" />
      <section>
        <h3 class="mb-1">Used by</h3>
        <p v-if="entry.experiments.length + entry.hypotheses.length === 0" class="text-ink-soft">Nothing yet.</p>
        <ul class="flex flex-col gap-1">
          <li v-for="experiment in entry.experiments" :key="experiment.id" class="flex items-baseline gap-2">
            <NuxtLink :to="`/sites/${siteId}/experiments/${experiment.id}`" class="text-accent underline">{{
              experiment.name
            }}</NuxtLink>
            <span class="text-sm text-ink-soft">{{ experiment.state }}</span>
          </li>
          <li v-for="hypothesis in entry.hypotheses" :key="`h${hypothesis.id}`">
            <NuxtLink :to="`/sites/${siteId}/hypotheses/${hypothesis.id}`" class="text-accent underline">{{
              hypothesis.title
            }}</NuxtLink>
          </li>
        </ul>
      </section>
      <form v-if="mayEdit" class="flex items-end gap-2" novalidate @submit.prevent="rename">
        <TextField v-model="name" class="flex-1" label="Name, wherever it is used" :error="errors.name" />
        <BaseButton type="submit" :disabled="isSaving || name.trim() === entry.name">Rename</BaseButton>
      </form>
    </div>
  </SideDrawer>
</template>
