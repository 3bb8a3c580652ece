<script setup lang="ts">
import { pageText } from '~~/shared/evidence/filter'

const route = useRoute('sites-site-evidence-page')
const siteId = Number(route.params.site)
const page = computed(() => (typeof route.query.of === 'string' ? route.query.of : '/'))
useHead({ title: () => `${page.value} · Vetch` })
const evidence = useEvidence(siteId)
const { api, filter, daysBack, set, choices } = evidence
const { value, problem, reload } = useLoaded(() =>
  api('reportPageFlow', { site: siteId, query: { ...filter.value, of: page.value } }),
)
watch([filter, page], reload)
const DEFINITION =
  'Views of the page in sessions that began in these days: what was open just before and just after each, and the source of the sessions that began on it.'
const path = computed(() => (page.value.startsWith('/') ? page.value : page.value.slice(page.value.indexOf('/'))))
const rule = computed(() => pageText({ match: 'exact', value: path.value }))
const { of: _, ...kept } = route.query
const links = computed(() => [
  { label: 'Heatmap', to: { path: `/sites/${siteId}/evidence/heatmap`, query: { ...kept, of: rule.value } } },
  { label: 'Recordings', to: { path: `/sites/${siteId}/evidence/recordings`, query: { ...kept, page: rule.value } } },
  { label: 'Forms', to: { path: `/sites/${siteId}/evidence/forms`, query: { ...kept, page: rule.value } } },
  { label: 'Surveys', to: { path: `/sites/${siteId}/evidence/surveys`, query: { ...kept, page: rule.value } } },
  {
    label: 'Visitors over time',
    to: { path: `/sites/${siteId}/evidence/visitors`, query: { ...kept, page: rule.value } },
  },
])
</script>

<template>
  <div class="max-w-5xl p-6 lg:p-8">
    <NuxtLink :to="{ path: `/sites/${siteId}/evidence/pages`, query: kept }" class="text-sm text-accent hover:underline"
      >All pages</NuxtLink
    >
    <PageHead :title="page" note="Where its visitors come from, and where they go next">
      <KeepFinding :site-id="siteId" report="pages" :question="filter" :focus="page" />
    </PageHead>
    <div class="mb-5">
      <FilterBar :filter="filter" :days-back="daysBack" :choices="choices" has-no-pages @change="set" />
    </div>
    <p class="mb-5 flex flex-wrap gap-x-5 gap-y-1">
      <NuxtLink v-for="each in links" :key="each.label" :to="each.to" class="py-1 font-medium text-accent underline">{{
        each.label
      }}</NuxtLink>
    </p>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!value" />
    <EmptyNote v-else-if="value.before.length === 0" text="Nobody has seen this page in these days." />
    <div v-else class="grid gap-x-10 gap-y-8 lg:grid-cols-2">
      <p class="flex justify-end lg:col-span-2">
        <ReportActions :site-id="siteId" report="flow" :question="{ ...filter, of: page }" :definition="DEFINITION" />
      </p>
      <FlowTable label="Before it" :flows="value.before" nothing="(entered here)" />
      <FlowTable label="After it" :flows="value.after" nothing="(left the site)" />
      <FlowTable label="Source of those who entered here" :flows="value.sources" nothing="unknown" />
    </div>
  </div>
</template>
