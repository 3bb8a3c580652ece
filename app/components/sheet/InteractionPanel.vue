<script setup lang="ts">
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import type { InteractionView, SegmentReadingView, SegmentView } from '~~/shared/experiments/resultsReplies'
import { linesWithin } from '~/charts/linesWithin'
import type { TableColumn } from '~/data/tableColumn'

/** Whether the effect on the primary metric depends on what visitors saw of another experiment, drawn as lines. */
const props = defineProps<{ sheet: ExperimentSheet; isConcluded: boolean }>()
const api = useApi()
const store = useSheetStore()
const { value: others, problem, reload } = useLoaded(() => api('readInteractions', store.place))
const metric = computed(() => props.sheet.metrics.find(({ role }) => role === 'primary')!)
const chosen = ref<string>()
const other = computed(
  () => others.value?.find(({ experimentId }) => String(experimentId) === chosen.value) ?? others.value?.[0] ?? null,
)
const choices = computed(() =>
  (others.value ?? []).map(({ experimentId, name, visitors }) => ({
    value: String(experimentId),
    label: `${name} (${formatCount(visitors)} visitors)`,
  })),
)
const choice = computed({
  get: () => String(other.value?.experimentId ?? ''),
  set: (experiment) => (chosen.value = experiment),
})
const within = (of: InteractionView) => of.comparisons[0]?.readings ?? []
const lines = computed(() => {
  if (!other.value) return []
  const control = within(other.value).map(({ controlMean }) => controlMean)
  return [
    { name: props.sheet.variants[0]!.name, position: 0, means: control },
    ...other.value.comparisons.map(({ readings }, index) => ({
      name: props.sheet.variants[index + 1]!.name,
      position: index + 1,
      means: readings.map(({ mean }) => mean),
    })),
  ]
})
const segment = computed<SegmentView | null>(
  () =>
    other.value && {
      dimension: `Variant of ${other.value.name}`,
      metrics: [{ metricVersionId: metric.value.versionId, comparisons: other.value.comparisons }],
    },
)
const show = (mean: number | null) => formatMetric(metric.value, mean, props.sheet.currency)
const columns = computed<TableColumn<SegmentReadingView>[]>(() => [
  { id: 'value', header: 'Variant of the other', value: ({ value }) => value ?? '', isHeading: true },
  ...lines.value.map(({ name, position, means }): TableColumn<SegmentReadingView> => {
    const of = (row: SegmentReadingView) => means[within(other.value!).indexOf(row)] ?? null
    return { id: `arm-${position}`, header: name, value: of, show: (row) => show(of(row)), isNumeric: true }
  }),
])
const found = computed(() =>
  (other.value?.comparisons ?? []).map(({ adjustedPValue }, index) => ({
    name: props.sheet.variants[index + 1]!.name,
    adjustedPValue,
    isInteraction: adjustedPValue !== null && adjustedPValue < props.sheet.plan.alpha,
  })),
)
</script>

<template>
  <div>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!others" />
    <p v-else-if="!other || !segment" class="text-ink-soft">
      No other experiment shares enough visitors with this one.
    </p>
    <div v-else class="flex flex-col gap-4">
      <ChoiceField v-model="choice" class="max-w-md" label="Other experiment" :choices="choices" />
      <p v-for="{ name, adjustedPValue, isInteraction } in found" :key="name" class="max-w-[72ch]">
        <template v-if="isInteraction"
          >The effect of {{ name }} depends on the other experiment: p {{ formatPValue(adjustedPValue) }}.</template
        >
        <template v-else>No sign that the effect of {{ name }} depends on the other experiment.</template>
      </p>
      <p class="text-sm text-ink-soft">Corrected over all experiments and variants here.</p>
      <OneLookNote :is-concluded="isConcluded" />
      <ChartFrame
        :title="`${metric.name} within ${other.name}`"
        note="An interaction tilts the lines against each other; chance does so, too."
        :summary="`${metric.name} of each variant, within each variant of ${other.name}.`"
        :draw="(tokens) => linesWithin({ names: within(other!).map(({ value }) => value ?? ''), lines, show }, tokens)"
        :columns="columns"
        :rows="within(other)"
        :row-key="({ value }) => value ?? ''"
      />
      <section v-for="(_, index) in other.comparisons" :key="index">
        <h4>{{ sheet.variants[index + 1]!.name }} against {{ sheet.variants[0]!.name }}</h4>
        <SegmentTable :sheet="sheet" :metric="metric" :position="index + 1" :segment="segment" />
      </section>
    </div>
  </div>
</template>
