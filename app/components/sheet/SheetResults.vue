<script setup lang="ts">
import type { ExperimentResults } from '~~/shared/experiments/resultsReplies'
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import { effectOfServing } from '~/data/effectRow'
import { decisiveMethod } from '~~/core/analysis/readings'

const props = defineProps<{
  sheet: ExperimentSheet
  results: ExperimentResults | null
  isStale: boolean
  mayDecide: boolean
  mayEdit: boolean
}>()
const emit = defineEmits<{ leftOut: [] }>()
const decisive = computed(() => decisiveMethod(props.sheet.plan.rule))
const method = useReadingMethod(() => decisive.value)
const isConcluded = computed(() => !!props.results?.reached)
const isDistrusted = computed(() => props.results?.verdict?.kind === 'distrust')
const of = (role: 'primary' | 'secondary' | 'guardrail') =>
  (props.results?.metrics ?? []).filter(({ metric }) => metric.role === role)
const primary = computed(() => of('primary')[0] ?? null)
const secondary = computed(() => of('secondary'))
const guardrails = computed(() => of('guardrail'))
const isServed = computed(() => props.sheet.purpose === 'serve')
const effects = computed(() =>
  (props.results?.metrics ?? [])
    .map((each) => effectOfServing(each, props.sheet.currency))
    .filter((each) => each !== null),
)
const domain = computed(() => trackDomain(of('primary'), props.sheet.plan.smallestLift))
</script>

<template>
  <SheetSection
    name="results"
    title="What happened"
    :note="
      results?.foldedAt
        ? `Newest events counted ${formatTime(results.foldedAt, sheet.timeZone)}, ${sheet.timeZone}`
        : undefined
    "
  >
    <template #action
      ><a
        :href="`/api/sites/${sheet.siteId}/experiments/${sheet.id}/results.csv`"
        class="text-ink-soft hover:text-ink hover:underline"
        >Export CSV</a
      ></template
    >
    <p v-if="isStale" class="mb-3 text-sm text-rust" role="alert">
      Vetch cannot be reached at the moment; these are the last known numbers.
    </p>
    <LoadingNote v-if="!results" />
    <div v-else class="flex flex-col gap-6">
      <p v-if="results.visitors === 0" class="text-ink-soft">No visitor has seen this experiment yet.</p>
      <template v-else>
        <DataSoundness
          v-if="isDistrusted"
          :sheet="sheet"
          :results="results"
          :may-decide="mayDecide"
          :may-edit="mayEdit"
          @left-out="emit('leftOut')"
        />
        <MethodSwitch
          v-if="results.metrics.length > 0"
          v-model="method"
          :decisive="decisive"
          :has-no-verdict="isServed"
        />
        <p v-if="isDistrusted" class="text-sm text-rust">
          What is struck through below was measured, and must not be trusted.
        </p>
        <p v-if="isServed && results.metrics.length === 0" class="text-ink-soft">
          Nobody is held back, so what it does is not known. {{ formatCount(results.visitors) }} visitors got it.
        </p>
        <EffectList
          v-if="isServed && results.metrics.length > 0"
          :class="{ distrusted: isDistrusted }"
          :effects="effects"
          :alpha="sheet.plan.alpha"
          :smallest-lift="sheet.plan.smallestLift"
          :parts="['Held back', 'Served']"
        />
        <div v-if="primary" :class="{ distrusted: isDistrusted }">
          <h3 class="mb-1">
            {{ primary.metric.name }}
            <span class="text-sm font-normal text-ink-soft">{{
              isServed ? 'the metric that it should move' : 'the primary metric, which decides'
            }}</span>
          </h3>
          <MetricPanel
            :sheet="sheet"
            :results="primary"
            :visitors="results.visitors"
            :method="method"
            :domain="domain"
            :is-concluded="isConcluded"
            :money="results.money"
            :next-look-at="results.nextLookAt"
          />
        </div>
        <MetricRows
          v-if="guardrails.length > 0"
          title="Guardrails"
          note="must not get worse than their limit"
          :class="{ distrusted: isDistrusted }"
          :sheet="sheet"
          :metrics="guardrails"
          :visitors="results.visitors"
          :method="method"
        />
        <MetricRows
          v-if="secondary.length > 0 && !isServed"
          :is-concluded="isConcluded"
          title="Secondary metrics"
          note="explain, and do not decide"
          :class="{ distrusted: isDistrusted }"
          :sheet="sheet"
          :metrics="secondary"
          :visitors="results.visitors"
          :method="method"
        />
        <MovingSplit
          v-if="sheet.periods.length > 0"
          :class="{ distrusted: isDistrusted }"
          :sheet="sheet"
          :results="results"
        />
        <SheetOverTime
          v-else-if="results.metrics.length > 0"
          :class="{ distrusted: isDistrusted }"
          :sheet="sheet"
          :counted-at="results.foldedAt"
          :is-concluded="isConcluded"
        />
        <SheetInteractions v-if="primary && sheet.periods.length === 0" :sheet="sheet" :is-concluded="isConcluded" />
        <VariantEvidence :sheet="sheet" />
        <DataSoundness
          v-if="!isDistrusted"
          :sheet="sheet"
          :results="results"
          :may-decide="mayDecide"
          :may-edit="mayEdit"
          @left-out="emit('leftOut')"
        />
      </template>
    </div>
    <ExplanationDialog />
  </SheetSection>
</template>
