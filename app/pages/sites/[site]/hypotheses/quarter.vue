<script setup lang="ts">
import type { CalendarRow } from '~/components/hypotheses/QuarterCalendar.vue'
import { ideaPages, roundMoney, weeksInWords } from '~/data/ideaWords'
import { quarterQuestion, untilWeek, whyNotTestable, type RunningTest } from '~/data/quarterIdeas'
import { saveFile } from '~/data/saveFile'
import { tableCsv } from '~/data/tableCsv'
import { dayAfter, firstMoment, siteDays } from '~~/core/time/siteDay'

useHead({ title: 'Next quarter · Vetch' })
const route = useRoute('sites-site-hypotheses-quarter')
const siteId = Number(route.params.site)
const { value: loaded, problem, reload, api, timeZone } = useIdeas(siteId)
const { choices } = useEvidence(siteId)
const {
  value: running,
  problem: runningProblem,
  reload: reloadRunning,
} = useLoaded<RunningTest[]>(async () => {
  const items = await Promise.all(
    (['running', 'paused'] as const).map((state) =>
      api('listExperiments', { site: siteId, query: { state, limit: 200 } }),
    ),
  )
  const all = items.flatMap((each) => each.items)
  const sheets = await Promise.all(all.map(({ id }) => api('readExperiment', { site: siteId, experiment: id })))
  return all.map((each, index) => ({ ...each, rules: sheets[index]!.pageRules, audience: sheets[index]!.audience }))
})
const changeQuery = useQueryChange()
const query = (name: 'weeks' | 'days') =>
  computed<string | number | null>({
    get: () => (typeof route.query[name] === 'string' ? route.query[name] : name === 'weeks' ? '13' : ''),
    set: (value) => changeQuery(({ [name]: _, ...rest }) => (value ? { ...rest, [name]: String(value) } : rest)),
  })
const [weeksTyped, daysTyped] = [query('weeks'), query('days')]
const weeks = computed(() => Number(weeksTyped.value))
const isWeeks = computed(() => Number.isInteger(weeks.value) && weeks.value >= 1 && weeks.value <= 30)
const effortDays = computed(() => (daysTyped.value === '' ? null : Number(daysTyped.value)))
const isDays = computed(() => effortDays.value === null || effortDays.value >= 0)
/** The Monday after today. */
const begin = computed(() => {
  const today = siteDays(timeZone.value)(Date.now())
  const weekday = (new Date(`${today}T12:00:00Z`).getUTCDay() + 6) % 7
  return firstMoment(dayAfter(today, 7 - weekday), timeZone.value)
})
const known = computed(() => choices.value?.pages ?? [])
const question = computed(() => {
  if (!loaded.value || !running.value || !choices.value || !isWeeks.value) return null
  const span = { begin: begin.value, weeks: weeks.value }
  return quarterQuestion(loaded.value.hypotheses, running.value, known.value, span)
})
const { choice, problem: choiceProblem, isChoosing, start, stop } = useQuarterChoice()
watch(
  [question, effortDays],
  () => {
    if (!question.value || !isDays.value) return
    const { ideas, taken } = question.value
    start({ ideas, terms: { weeks: weeks.value, effortDays: effortDays.value, taken } })
  },
  { immediate: true },
)
const hypothesis = (id: number) => loaded.value!.hypotheses.find((each) => each.id === id)!
const money = (amount: number) => roundMoney(amount, loaded.value!.currency)
const rows = computed<CalendarRow[]>(() => {
  if (!choice.value || !running.value) return []
  const runs = running.value.flatMap((test): CalendarRow[] => {
    const until = untilWeek(test, begin.value, weeks.value)
    if (until === 0) return []
    return [
      {
        key: `experiment ${test.id}`,
        label: test.name,
        note: 'runs already',
        isRunning: true,

        to: `/sites/${siteId}/experiments/${test.id}`,
        from: 0,
        until,
      },
    ]
  })
  const planned = choice.value.planned.map(({ id, start: from }): CalendarRow => {
    const { title, pages, audience, assessment } = hypothesis(id)
    const length = assessment!.cost!.weeks!
    return {
      key: `hypothesis ${id}`,
      label: title,
      isRunning: false,
      from,
      until: from + length,
      note: `${ideaPages(pages)}${audience ? ` · ${segmentInWords(audience, choices.value)}` : ''} · ${money(assessment!.worth!.money!.expected)} a month`,
      to: `/sites/${siteId}/hypotheses/${id}`,
    }
  })
  return [...runs, ...planned]
})
const left = computed(() => {
  if (!choice.value) return []
  const chosen = new Set(choice.value.planned.map(({ id }) => id))
  return (loaded.value?.hypotheses ?? []).flatMap((each) => {
    if (chosen.has(each.id) || (each.stage !== 'new' && each.stage !== 'worth testing')) return []
    const length = each.assessment?.cost?.weeks ?? 0
    const tooLong = length > weeks.value ? `takes ${weeksInWords(length)}` : 'does not fit beside what is worth more'
    return [{ ...each, why: whyNotTestable(each) ?? tooLong }]
  })
})
function save(): void {
  const columns = [
    { id: 'test', header: 'Test', value: ({ label }: CalendarRow) => label },
    { id: 'what', header: 'What', value: ({ note }: CalendarRow) => note },
    { id: 'from', header: 'First week', value: ({ from }: CalendarRow) => from + 1 },
    { id: 'weeks', header: 'Weeks', value: ({ from, until }: CalendarRow) => until - from },
  ]
  saveFile('next-quarter.csv', tableCsv(columns, rows.value))
}
</script>

<template>
  <div class="p-6 lg:p-8">
    <HypothesesHead
      :site-id="siteId"
      note="Which tests fit the traffic of each page, and are worth the most together"
    />
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <ProblemNote v-else-if="runningProblem" :text="runningProblem" @retry="reloadRunning" />
    <LoadingNote v-else-if="!loaded || !running || !choices" />
    <div v-else class="flex flex-col gap-6">
      <div class="flex flex-wrap items-start gap-4">
        <TextField
          v-model.lazy="weeksTyped"
          class="w-28"
          label="Weeks"
          numeric
          :error="isWeeks ? undefined : 'Type 1 to 30 weeks.'"
        />
        <TextField
          v-model.lazy="daysTyped"
          class="w-44"
          label="Days of effort"
          numeric
          placeholder="as many as it takes"
          :error="isDays ? undefined : 'Type the days as a number.'"
        />
        <BaseButton
          v-if="rows.length > 0"
          class="mt-6 ml-auto"
          kind="quiet"
          aria-label="Export as CSV: plan"
          @click="save"
          >CSV</BaseButton
        >
      </div>
      <p v-if="choiceProblem" class="text-rust" role="alert">{{ choiceProblem }}</p>
      <p v-if="isChoosing" class="flex items-center gap-3">
        Choosing …
        <BaseButton kind="quiet" @click="stop">Cancel</BaseButton>
      </p>
      <template v-else-if="choice && isWeeks && isDays">
        <p data-testid="choice">
          <strong>{{ choice.planned.length }}</strong> of {{ question?.ideas.length ?? 0 }} ideas that can be tested,
          expected to bring <strong>{{ money(choice.worth) }}</strong> a month if they work as expected.
          <span class="text-ink-soft">{{
            choice.isBest
              ? 'No other choice is worth more.'
              : `No choice is worth more than ${money(choice.bound)}; looking at all of them would take too long.`
          }}</span>
        </p>
        <EmptyNote
          v-if="rows.length === 0"
          text="Nothing can be planned: no idea has a value, fits the weeks and finds enough visitors. The reasons stand below."
        />
        <QuarterCalendar v-else :rows="rows" :weeks="weeks" :begin="begin" :time-zone="timeZone" />
        <section v-if="left.length > 0" aria-labelledby="left">
          <h2 id="left" class="mb-2">Not in it</h2>
          <ul class="flex flex-col gap-1 text-sm">
            <li v-for="each in left" :key="each.id">
              <NuxtLink :to="`/sites/${siteId}/hypotheses/${each.id}`" class="text-accent underline">{{
                each.title
              }}</NuxtLink>
              <span class="text-ink-soft">: {{ each.why }}</span>
            </li>
          </ul>
        </section>
        <p class="max-w-[75ch] text-sm text-ink-soft">
          Each test takes all visitors of its pages for the weeks that it needs. No page is in two tests at a time.
          Tests that run have their pages until their longest run is over.
        </p>
      </template>
    </div>
  </div>
</template>
