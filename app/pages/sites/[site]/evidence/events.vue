<script setup lang="ts">
useHead({ title: 'Events · Vetch' })
const route = useRoute('sites-site-evidence-events')
const siteId = Number(route.params.site)
const { api, filter, daysBack, set, timeZone } = useEvidence(siteId)
const {
  value: report,
  problem,
  reload,
} = useLoaded(() => api('reportEvents', { site: siteId, query: { from: filter.value.from, to: filter.value.to } }))
watch(filter, reload)
const DEFINITION =
  'Everything that arrived in these days, by the moment at which it happened, of everybody: also of robots and of your own team.'
const refused = computed(() => report.value?.refusals.reduce((sum, { events }) => sum + events, 0) ?? 0)
</script>

<template>
  <div class="p-6 lg:p-8">
    <EvidenceHead :site-id="siteId" note="Everything that arrives from your pages, and what was refused" />
    <div class="flex max-w-5xl flex-col gap-8">
      <section aria-labelledby="live-tail">
        <h2 id="live-tail" class="mb-2">Now</h2>
        <LiveTail :site-id="siteId" :time-zone="timeZone" />
      </section>
      <section aria-labelledby="kinds">
        <h2 id="kinds" class="mb-3">Kinds of events</h2>
        <div class="mb-4 flex flex-wrap items-end justify-between gap-3">
          <DaysField :filter="filter" :days-back="daysBack" @change="set" />
          <ReportActions
            :site-id="siteId"
            report="events"
            :question="{ from: filter.from, to: filter.to }"
            :definition="DEFINITION"
          />
        </div>
        <ProblemNote v-if="problem" :text="problem" @retry="reload" />
        <LoadingNote v-else-if="!report" />
        <EmptyNote v-else-if="report.kinds.length === 0" text="Nothing arrived in these days." />
        <EventTable v-else :site-id="siteId" :report="report" :time-zone="timeZone" />
      </section>
      <section v-if="report" aria-labelledby="refused">
        <h2 id="refused" class="mb-2">Refused</h2>
        <p v-if="refused === 0" class="text-ink-soft">Nothing was refused in these days.</p>
        <ul v-else class="flex flex-col gap-1">
          <li v-for="each in report.refusals" :key="each.reason">
            <span class="font-semibold">{{ formatCount(each.events) }}</span>: {{ each.reason }}
            <span class="text-ink-soft">(last on {{ each.lastDay }})</span>
          </li>
        </ul>
      </section>
    </div>
  </div>
</template>
