<script setup lang="ts">
useHead({ title: 'Pages · Vetch' })
const route = useRoute('sites-site-evidence-pages')
const siteId = Number(route.params.site)
const evidence = useEvidence(siteId)
const { api, filter, daysBack, compare, set, choices, comparedName } = evidence
const { id: metricId, metric, options, asked } = useMetricChoice(choices)
const ask = (of: Filter) => api('reportPages', { site: siteId, query: { ...of, ...asked.value } })
const { value: loaded, problem, isLoading, reload } = useReport(evidence, ask, () => asked.value)
/** What visitors of a page get beside what the site has. */
const { value: served } = useLoaded(() => api('listServed', { site: siteId }))
const changeQuery = useQueryChange()
const sort = computed<string>({
  get: () => (typeof route.query.sort === 'string' ? route.query.sort : '-visitors'),
  set: (value) => changeQuery(({ sort: _, ...rest }) => (value === '-visitors' ? rest : { ...rest, sort: value })),
})
const reference = computed(() => (compare.value === null ? 'as many days before' : comparedName.value))
const DEFINITION =
  'Sessions that began in these days, by the pages seen in them. An entry is a first page, an exit a last one, a bounce a session with a single view. Time in view is told by the sessions whose behavior is collected. A conversion counts in sessions that reached the metric at or after their first view of the page.'
</script>

<template>
  <div class="p-6 lg:p-8">
    <EvidenceHead :site-id="siteId" note="What visitors see, where they enter, and where they leave" />
    <div class="mb-5 flex flex-wrap items-end gap-x-5 gap-y-3">
      <FilterBar :filter="filter" :days-back="daysBack" :choices="choices" :compare="compare" @change="set" />
      <ChoiceField v-model="metricId" class="w-52" label="Conversion" :choices="options" />
    </div>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!loaded" />
    <NoSessionsNote v-else-if="loaded.report.pages.length === 0" :site-id="siteId" :choices="choices" />
    <div v-else :aria-busy="isLoading" :class="{ 'opacity-60': isLoading }">
      <p class="mb-1 flex flex-wrap items-baseline justify-between gap-x-4">
        <span
          >{{ formatCount(loaded.report.visitors) }} visitors in {{ formatCount(loaded.report.sessions) }} sessions.
          Small figures: the change against {{ reference }}.<template v-if="loaded.report.others > 0">
            Of all pages the {{ formatCount(loaded.report.pages.length) }} with the most views;
            {{ formatCount(loaded.report.others) }} are not listed.</template
          ></span
        >
        <ReportActions :site-id="siteId" report="pages" :question="{ ...filter, ...asked }" :definition="DEFINITION" />
      </p>
      <PageTable
        v-model:sort="sort"
        :site-id="siteId"
        :report="loaded.report"
        :other="compare === null || compare === BEFORE ? null : loaded.other"
        :metric="metric?.name ?? null"
        :served="served ?? []"
      />
    </div>
  </div>
</template>
