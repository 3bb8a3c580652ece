<script setup lang="ts">
import { BUCKETS } from '~~/core/assignment/assignment'
import { effectOfHoldout, mostMeasuredFirst } from '~/data/effectRow'

const route = useRoute('sites-site-experiments-holdouts-holdout')
const siteId = Number(route.params.site)
const holdoutId = Number(route.params.holdout)
const account = useAccountStore()
const site = computed(() => account.site(siteId))
const timeZone = computed(() => site.value?.timeZone ?? 'UTC')
const api = useApi()
const { value: holdouts, problem, reload } = useLoaded(() => api('listHoldouts', { site: siteId }))
const holdout = computed(() => holdouts.value?.find(({ id }) => id === holdoutId) ?? null)
const {
  value: reading,
  problem: readingProblem,
  reload: readAgain,
} = useLoaded(() => api('readHoldout', { site: siteId, holdout: holdoutId }))
useHead({ title: computed(() => `${holdout.value?.name ?? 'Holdout'} · Vetch`) })
const effects = computed(() =>
  (reading.value?.metrics ?? []).map((each) => effectOfHoldout(each, reading.value!.currency)),
)
const main = computed(() => {
  const [first] = mostMeasuredFirst(reading.value?.metrics ?? [])
  return first && !first.shortfall && !reading.value!.allocation.alarm ? first : null
})
const { isSaving, save } = useSaving()
const close = () =>
  save(async () => {
    holdouts.value = await api('closeHoldout', { site: siteId, holdout: holdoutId })
    await readAgain()
  })
/** No plan says what is worthwhile: a percent, so that tracks are as wide as their intervals. */
const SMALLEST_LIFT = 0.01
</script>

<template>
  <div class="max-w-5xl p-6 lg:p-8">
    <NuxtLink :to="`/sites/${siteId}/experiments/traffic`" class="text-ink-soft hover:text-ink hover:underline"
      >Shared traffic</NuxtLink
    >
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!holdouts" />
    <EmptyNote v-else-if="!holdout" text="This holdout does not exist on this site." />
    <div v-else class="flex flex-col gap-7">
      <header class="flex flex-wrap items-start gap-3">
        <div class="mr-auto min-w-0">
          <h1 class="break-words">{{ holdout.name }}</h1>
          <p class="text-ink-soft" data-testid="state">
            {{ formatPercent(holdout.share / BUCKETS) }} of the visitors are kept from what starts between
            {{ formatDate(holdout.startsAt, timeZone) }} and {{ formatDate(holdout.endsAt, timeZone) }}.
            <template v-if="holdout.closedAt"
              >Closed on {{ formatDate(holdout.closedAt, timeZone) }}: everybody gets everything.</template
            >
          </p>
        </div>
        <AskFirst
          v-if="site?.role === 'owner' && !holdout.closedAt"
          label="Close the holdout"
          :disabled="isSaving"
          :title="`Close ${holdout.name}?`"
          text="Everybody gets what runs and what is rolled out. The reading of today is kept. A closed holdout is not opened again."
          @confirm="close"
        />
      </header>
      <ProblemNote v-if="readingProblem" :text="readingProblem" @retry="readAgain" />
      <LoadingNote v-else-if="!reading" text="Reading the visits …" />
      <EmptyNote
        v-else-if="reading.visitors[0] === 0 || reading.visitors[1] === 0"
        text="Nobody has come since it began. The reading begins with the first visitors."
      />
      <template v-else>
        <p class="max-w-[72ch]" data-testid="who">
          {{ formatCount(reading.visitors[0]!) }} held-out visitors against
          {{ formatCount(reading.visitors[1]!) }} others, from {{ formatDate(reading.from, timeZone) }} to
          {{ formatDate(reading.until, timeZone) }}.
          <template v-if="reading.allocation.alarm">
            <strong class="text-rust">Their numbers do not fit the share. Do not trust this reading.</strong>
          </template>
        </p>
        <p v-if="main" class="max-w-[72ch] text-lg" data-testid="together">
          Together, the changes moved {{ main.metric.name }} by {{ formatLift(main.lift.estimate) }} ({{
            formatInterval(main.lift.interval)
          }}).
          <template v-if="main.promised?.lift != null"
            >Their own measurements promised {{ formatLift(main.promised.lift) }} ({{
              formatInterval(main.promised.interval)
            }}).</template
          >
        </p>
        <section aria-label="What everything together has brought">
          <EffectList
            :class="{ distrusted: reading.allocation.alarm }"
            :effects="effects"
            :alpha="reading.alpha"
            :smallest-lift="SMALLEST_LIFT"
            :parts="['Held out', 'Others']"
          />
          <p class="mt-2 max-w-[72ch] text-sm text-ink-soft">
            The sum of single lifts is what each change promised by its own test, over all visitors. Where the joint
            lift is smaller, effects have worn off, overlap, or were picked by luck.
          </p>
        </section>
        <HoldoutMonths :site-id="siteId" :reading="reading" :time-zone="timeZone" />
      </template>
    </div>
  </div>
</template>
