<script setup lang="ts">
import { asMeasured } from '~~/core/sheet/wordings'

const route = useRoute('sites-site-experiments-experiment')
const store = useSheetStore()
const account = useAccountStore()
const siteId = Number(route.params.site)
const mayEdit = computed(() => account.site(siteId)?.role !== 'viewer')
const mayDecide = computed(() => account.site(siteId)?.role === 'owner')
/** Whoever is left out by the results stands in the list below. */
const timesLeftOut = ref(0)
const { problem, reload } = useLoaded(() => store.open(siteId, Number(route.params.experiment)))
const { results, isStale, refresh } = useResults()
const { report, isLooking, problem: unlooked, look } = usePreflight()
const thread = useTemplateRef('thread')
watch(
  () => store.sheet?.version,
  () => void thread.value?.reload(),
)
/** Results are of what is served as a whole, whichever wording it is. */
const measured = computed(() => store.sheet && asMeasured(store.sheet))
const isServed = computed(() => store.sheet?.purpose === 'serve')
const isDraft = computed(() => store.sheet?.state === 'draft')
useHead({ title: computed(() => `${store.sheet?.name ?? 'Experiment'} · Vetch`) })
useShortcuts([
  { keys: 'r', label: 'Refresh the results', run: refresh, isOn: () => !!store.sheet?.startedAt },
  {
    keys: 'p',
    label: 'Point at the page for the first variant',
    run: () => void navigateTo(`${route.path}/point?variant=1`),
    isOn: () => isDraft.value && mayEdit.value,
  },
])
</script>

<template>
  <div class="p-6 lg:p-8">
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!store.sheet" />
    <div v-else class="grid gap-x-10 gap-y-6 xl:grid-cols-[minmax(0,46rem)_16rem]">
      <ThreadLine :id="store.sheet.id" ref="thread" :site-id="siteId" of="experiment" class="xl:col-start-1" />
      <SheetHeader :may-edit="mayEdit" class="xl:col-start-1" />
      <div v-if="store.sheet.startedAt && results" class="flex flex-col gap-3 xl:col-start-1">
        <DecisionNote v-if="!isServed" :sheet="store.sheet" :may-edit="mayEdit" />
        <VerdictNote
          v-if="results.verdict"
          :verdict="results.verdict"
          :reached="results.reached"
          :since="results.since"
          :time-zone="store.sheet.timeZone"
        />
        <OutlookNote v-if="results.outlook" :sheet="store.sheet" :outlook="results.outlook" />
      </div>
      <div class="flex min-w-0 flex-col gap-9 xl:col-start-1">
        <AlarmSection
          v-if="store.sheet.startedAt"
          :site-id="store.sheet.siteId"
          :of="{ experiment: store.sheet.id }"
          :time-zone="store.sheet.timeZone"
          :may-edit="mayEdit"
        />
        <SheetResults
          v-if="measured?.startedAt"
          :sheet="measured"
          :results="results"
          :is-stale="isStale"
          :may-decide="mayDecide"
          :may-edit="mayEdit"
          @left-out="timesLeftOut++"
        />
        <SheetJobs v-if="store.sheet.startedAt" />
        <template v-if="isDraft && mayEdit">
          <SheetWhy />
          <SheetWhat @pictured="look" />
          <SheetWho />
          <SheetMeasured />
          <SheetWatched v-if="isServed" />
          <SheetDecided v-else :forecast="report?.forecast ?? null" />
        </template>
        <template v-else>
          <ReadWhy :may-edit="mayEdit" />
          <ReadWhat :may-edit="mayEdit" />
          <ReadWho :may-raise="mayEdit && store.sheet.state !== 'ended'" />
          <ReadMeasured :may-add="mayEdit && !isDraft" />
          <ReadWatched v-if="isServed" :sheet="store.sheet" />
          <GoingHome
            v-if="isServed && store.sheet.startedAt && store.sheet.state !== 'ended'"
            :site-id="store.sheet.siteId"
            :experiment-id="store.sheet.id"
            :variants="store.sheet.variants"
            :time-zone="store.sheet.timeZone"
            :may-edit="mayEdit"
          />
          <ReadPlan v-if="!isServed" :sheet="store.sheet" :results="results" />
        </template>
        <SheetExclusions v-if="store.sheet.startedAt" :key="timesLeftOut" :may-decide="mayDecide" />
        <SheetReview :may-ask="mayEdit && isDraft" :may-answer="isDraft" />
        <SheetChanges :may-restore="mayEdit && isDraft" />
      </div>
      <SheetSide
        :may-edit="mayEdit"
        :results="results"
        :report="report"
        :is-looking="isLooking"
        :problem="unlooked"
        :class="store.sheet.startedAt && results ? 'max-xl:row-start-3' : 'max-xl:row-start-2'"
        class="xl:col-start-2 xl:row-span-3 xl:row-start-1"
      />
    </div>
  </div>
</template>
