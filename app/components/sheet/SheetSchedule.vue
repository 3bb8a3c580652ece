<script setup lang="ts">
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import { DAY } from '~~/core/time/units'
import { localMoment, localTime } from '~~/core/time/localMoment'

/** When the experiment starts and ends by itself: told, and set in a dialog. */
const props = defineProps<{ sheet: ExperimentSheet; mayEdit: boolean }>()
const store = useSheetStore()
const notices = useNoticesStore()
const { errors, isSaving, save } = useSaving()
const isOpen = ref(false)
const isDraft = computed(() => props.sheet.state === 'draft')
const zone = computed(() => props.sheet.timeZone)
const local = (moment: string | null) => (moment === null ? '' : localTime(Date.parse(moment), zone.value))
const draft = reactive({ start: '', end: '' })
function open(): void {
  const { start, end } = props.sheet.schedule
  Object.assign(draft, { start: local(start), end: local(end) })
  isOpen.value = true
}
const WEEK = 7
/** Ends that make whole weeks of a run, within the least and the longest of the plan. */
const suggestions = computed(() => {
  const from = isDraft.value ? draft.start : local(props.sheet.startedAt)
  if (from === '') return []
  const { leastWeeks, longestWeeks } = props.sheet.plan
  const weeks = [...new Set([leastWeeks, Math.min(leastWeeks + 1, longestWeeks), longestWeeks])]
  return weeks.map((count) => ({ count, end: daysLater(from, count * WEEK) }))
})
function daysLater(time: string, days: number): string {
  const at = new Date(`${time}Z`)
  at.setUTCDate(at.getUTCDate() + days)
  return at.toISOString().slice(0, 16)
}
/** What the clock does at the time that was chosen. */
const oddity = computed(() => {
  for (const time of [draft.start, draft.end]) {
    if (time === '') continue
    try {
      const found = localMoment(time, zone.value)
      if (found.oddity === 'twice')
        return `${time.replace('T', ' ')} comes twice, as clocks are put back. The first one counts.`
      if (found.oddity === 'skipped')
        return `${time.replace('T', ' ')} is skipped, as clocks are put forward: it becomes ${localTime(found.at, zone.value).slice(11)}.`
    } catch {
      return null
    }
  }
  return null
})
const isPartWeek = computed(
  () =>
    suggestions.value.length > 0 &&
    draft.end !== '' &&
    !isWholeWeeks(isDraft.value ? draft.start : local(props.sheet.startedAt), draft.end),
)
function isWholeWeeks(from: string, to: string): boolean {
  return from.slice(11) === to.slice(11) && (Date.parse(`${to}Z`) - Date.parse(`${from}Z`)) % (WEEK * DAY) === 0
}
const words = computed(() => {
  const { start, end } = props.sheet.schedule
  const parts = [start && `starts ${formatTime(start, zone.value)}`, end && `ends ${formatTime(end, zone.value)}`]
  return parts.filter(Boolean).join(', ')
})
const keep = (times: { start: string; end: string }) =>
  save(async () => {
    await store.schedule({ start: times.start || null, end: times.end || null })
    isOpen.value = false
    notices.show(times.start || times.end ? 'Scheduled.' : 'Not scheduled.')
  })
</script>

<template>
  <section aria-label="Schedule" class="flex flex-col gap-2 text-sm">
    <p v-if="sheet.schedule.problem" class="border-l-2 border-rust pl-3">
      It did not start by itself: {{ sheet.schedule.problem }}
    </p>
    <p v-if="words" class="first-letter:uppercase">It {{ words }}, in the site’s time zone.</p>
    <span v-if="mayEdit" class="flex flex-wrap gap-x-3">
      <button type="button" class="text-ink-soft underline hover:text-ink" @click="open">
        {{ words ? 'Change the schedule' : 'Schedule …' }}
      </button>
      <button
        v-if="words"
        type="button"
        class="text-ink-soft underline hover:text-ink"
        @click="keep({ start: '', end: '' })"
      >
        Remove the schedule
      </button>
    </span>
    <PlainDialog v-model:open="isOpen" title="Start and end by itself">
      <p class="mb-3 text-ink-soft">In the site’s time zone ({{ zone }}). If it cannot start then, Today says why.</p>
      <form class="grid gap-3 sm:grid-cols-2" novalidate @submit.prevent="keep(draft)">
        <TextField v-if="isDraft" v-model="draft.start" type="datetime-local" label="Starts" :error="errors.start" />
        <TextField v-model="draft.end" type="datetime-local" label="Ends" hint="Empty: by hand." :error="errors.end" />
        <p v-if="suggestions.length > 0" class="flex flex-wrap items-center gap-2 sm:col-span-2">
          Whole weeks:
          <BaseButton v-for="{ count, end } in suggestions" :key="count" kind="quiet" @click="draft.end = end">
            after {{ count }} {{ count === 1 ? 'week' : 'weeks' }}
          </BaseButton>
        </p>
        <p v-if="isPartWeek" class="text-rust sm:col-span-2">
          These are no whole weeks: weekdays would count more often than others.
        </p>
        <p v-if="oddity" class="sm:col-span-2">{{ oddity }}</p>
        <BaseButton kind="main" type="submit" class="justify-self-start" :disabled="isSaving">Save</BaseButton>
      </form>
      <template #actions><BaseButton kind="quiet" @click="isOpen = false">Cancel</BaseButton></template>
    </PlainDialog>
  </section>
</template>
