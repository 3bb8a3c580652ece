<script setup lang="ts">
import { levelsAround } from '~/charts/levels'
import { finishedDays, MEASURE_WORDS, MEASURES, METRIC_MEASURES } from '~/data/overTimeMeasures'
import { PERIODS, type Period } from '~~/core/time/periods'
import { aroundDay } from '~~/core/history/aroundDay'
import { DIMENSIONS } from '~~/core/evidence/visits'

useHead({ title: 'Visitors · Vetch' })
const route = useRoute('sites-site-evidence-visitors')
const siteId = Number(route.params.site)
const evidence = useEvidence(siteId)
const { api, filter, daysBack, compare, set, choices, comparedName, timeZone } = evidence
const { id: metricId, metric, options, asked: metricAsked } = useMetricChoice(choices)
const by = useQueryChoice<string>('by', () => ['', ...DIMENSIONS])
const per = useQueryChoice<Period>('per', () => PERIODS)
const measures = computed(() =>
  MEASURES.filter((measure) => !METRIC_MEASURES.includes(measure) || metric.value).filter(
    (measure) => measure !== 'sum' || metric.value?.kind !== 'conversion',
  ),
)
const measure = useQueryChoice('measure', () => measures.value)
const asked = computed(() => ({
  ...metricAsked.value,
  ...(by.value ? { by: by.value } : {}),
  ...(per.value === 'day' ? {} : { per: per.value }),
}))
const ask = (of: Filter) => api('reportOverTime', { site: siteId, query: { ...of, ...asked.value } })
const { value: loaded, problem, isLoading, reload } = useReport(evidence, ask, () => asked.value)
const account = useAccountStore()
const mayEdit = computed(() => account.site(siteId)?.role !== 'viewer')
const { marks, markers, problem: marksProblem, reload: reloadMarks } = useMarks(siteId, () => filter.value)
/** Kept in the address, so that what it says can be shared. */
const chosen = useQueryChoice<string>('mark', () => ['', ...(marks.value ?? []).map(({ key }) => key)])
const chosenDay = computed(() => marks.value?.find(({ key }) => key === chosen.value)?.day ?? null)
/** Weeks and months have no weekdays: what was before and after a day is read by days, whatever the chart shows. */
const {
  value: byDay,
  problem: daysProblem,
  reload: reloadDays,
} = useLoaded(async () => {
  if (!chosenDay.value || per.value === 'day') return null
  const { per: _, ...daily } = asked.value
  return api('reportOverTime', { site: siteId, query: { ...filter.value, ...daily } })
})
watch([chosenDay, per, filter, asked], reloadDays)
const arounds = computed(() => {
  const report = per.value === 'day' ? loaded.value?.report : byDay.value
  const day = chosenDay.value
  if (!day || !report) return []
  return report.series.map((series) => ({
    line: series.value,
    around: aroundDay(finishedDays(report.days, series, measure.value, timeZone.value), day),
  }))
})
/** Levels are drawn where there is one line of days. */
const levels = computed(() => {
  const [only, ...others] = arounds.value
  const isOne = only?.around && others.length === 0 && per.value === 'day'
  return isOne && chosenDay.value ? levelsAround(only.around!, chosenDay.value) : []
})
const PERIOD_CHOICES = PERIODS.map((value) => ({ value, label: value }))
const dimensionChoices = [
  { value: '', label: 'nothing' },
  ...DIMENSIONS.map((value) => ({ value: value as string, label: segmentName(value) })),
]
const measureChoices = computed(() => measures.value.map((value) => ({ value, label: MEASURE_WORDS[value] })))
const currency = computed(() => choices.value?.currency ?? 'EUR')
const format = (value: number) => {
  if (measure.value === 'rate') return formatShare(value, 1)
  if (measure.value === 'sum' && metric.value?.isMoney) return formatAmount(value, currency.value)
  return formatCount(value)
}
/** A mean of days is no whole number. */
const formatMean = (value: number) =>
  measure.value === 'rate' || (measure.value === 'sum' && metric.value?.isMoney) ? format(value) : formatNumber(value)
const DEFINITION =
  'Each session counts on the day on which it began, or in its week or month; a visitor once in each, however many sessions. New are those at their first visit. Active in 7 or 28 days is whoever had a session on that day, or on the last day of the week or month, or in the days before it. A visitor converted on a day if a session that began then reached the metric.'
</script>

<template>
  <div class="p-6 lg:p-8">
    <EvidenceHead :site-id="siteId" note="Who comes, how often, and from where" />
    <div class="mb-5 flex flex-wrap items-end gap-x-5 gap-y-3">
      <FilterBar :filter="filter" :days-back="daysBack" :choices="choices" :compare="compare" @change="set" />
      <ChoiceField v-model="by" class="w-48" label="Split by" :choices="dimensionChoices" />
      <ChoiceField v-model="metricId" class="w-48" label="Metric" :choices="options" />
      <ChoiceField v-model="measure" class="w-52" label="Show" :choices="measureChoices" />
      <ButtonRow v-model="per" label="By" :choices="PERIOD_CHOICES" />
    </div>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!loaded" />
    <NoSessionsNote v-else-if="loaded.report.total.sessions === 0" :site-id="siteId" :choices="choices" />
    <div v-else class="max-w-5xl" :class="{ 'opacity-60': isLoading }" :aria-busy="isLoading">
      <p class="mb-4 flex flex-wrap items-baseline justify-between gap-x-4">
        <span>
          {{ countOf(loaded.report.total.visitors, 'visitor') }} in
          {{ countOf(loaded.report.total.sessions, 'session') }} with
          {{ countOf(loaded.report.total.views, 'page view')
          }}<template v-if="loaded.report.before.visitors > 0"
            >; visitors {{ formatLift(loaded.report.total.visitors / loaded.report.before.visitors - 1) }} against the
            previous period</template
          >.
        </span>
        <ReportActions
          :site-id="siteId"
          report="overTime"
          :question="{ ...filter, ...asked }"
          :definition="DEFINITION"
        />
      </p>
      <OverTimeChart
        :report="loaded.report"
        :other="loaded.other"
        :other-name="comparedName"
        :measure="measure"
        :format="format"
        :time-zone="timeZone"
        :to="filter.to"
        :per="per"
        :markers="markers"
        :levels="levels"
      />
      <ProblemNote v-if="daysProblem" :text="daysProblem" @retry="reloadDays" />
      <ProblemNote v-if="marksProblem" :text="marksProblem" @retry="reloadMarks" />
      <MarkSection
        v-else-if="marks"
        v-model:chosen="chosen"
        :site-id="siteId"
        :marks="marks"
        :arounds="arounds"
        :measure="MEASURE_WORDS[measure]"
        :format="formatMean"
        :may-edit="mayEdit"
        @changed="reloadMarks"
      />
    </div>
  </div>
</template>
