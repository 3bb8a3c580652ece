<script setup lang="ts">
useHead({ title: 'Forms · Vetch' })
const route = useRoute('sites-site-evidence-forms')
const siteId = Number(route.params.site)
const evidence = useEvidence(siteId)
const { api, filter, daysBack, compare, set, choices, comparedName } = evidence
const {
  value: loaded,
  problem,
  isLoading,
  reload,
} = useReport(evidence, (of) => api('reportForms', { site: siteId, query: { ...of } }))
const keyOf = ({ page, form }: { page: string; form: string }) => `${page} ${form}`
const forms = computed(() => loaded.value?.report.forms ?? [])
const chosen = useQueryChoice('form', () => forms.value.map(keyOf))
const form = computed(() => forms.value.find((each) => keyOf(each) === chosen.value) ?? null)
const other = computed(() => loaded.value?.other?.forms.find((each) => keyOf(each) === chosen.value) ?? null)
const rate = ({ sent, begun }: { sent: number; begun: number }) => formatShare(begun === 0 ? null : sent / begun, 1)
const formChoices = computed(() =>
  forms.value.map((each) => ({
    value: keyOf(each),
    label: `${each.form} on ${each.page} (${formatCount(each.seen)})`,
  })),
)
const DEFINITION =
  'Forms that came into view in sessions that began in these days, where behavior is collected. A session began a form when it was in one of its fields, and sent it when it was submitted. The time in a field adds up all visits of a session; before typing is the time to the first change.'
</script>

<template>
  <div class="p-6 lg:p-8">
    <EvidenceHead :site-id="siteId" note="Where people hesitate in forms, and at which field they leave" />
    <div class="mb-5">
      <FilterBar :filter="filter" :days-back="daysBack" :choices="choices" :compare="compare" @change="set" />
    </div>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!loaded" />
    <EmptyNote v-else-if="!form" text="No form was seen. Forms are found by themselves where behavior is collected.">
      <NuxtLink :to="`/sites/${siteId}/setup/collection`" class="font-medium text-accent underline"
        >See what is collected</NuxtLink
      >
    </EmptyNote>
    <div v-else class="max-w-5xl" :class="{ 'opacity-60': isLoading }" :aria-busy="isLoading">
      <div class="mb-4 flex flex-wrap items-end justify-between gap-3">
        <ChoiceField v-model="chosen" class="w-80" label="Form" :choices="formChoices" />
        <ReportActions :site-id="siteId" report="forms" :focus="chosen" :question="filter" :definition="DEFINITION" />
      </div>
      <p class="mb-3">
        {{ formatCount(form.seen) }} sessions saw it, {{ formatCount(form.begun) }} began,
        {{ formatCount(form.sent) }} sent it: {{ rate(form) }} of those who began<template v-if="other"
          >, against {{ rate(other) }} ({{ comparedName }})</template
        >.
      </p>
      <SampleNote class="mb-3" :choices="choices" />
      <FormFigures :form="form" :other="other" :other-name="comparedName" />
    </div>
  </div>
</template>
