<script setup lang="ts">
import type { EndInput } from '~~/shared/experiments/experiment'
import type { ExperimentResults } from '~~/shared/experiments/resultsReplies'
import type { PreflightReport } from '~~/shared/experiments/replies'
import { beginningPath } from '~~/core/targeting/pageRule'
import { PURPOSE_WORDS } from '~/sheets/purposeWords'

const props = defineProps<{
  mayEdit: boolean
  results: ExperimentResults | null
  report: PreflightReport | null
  isLooking: boolean
  problem: string | null
}>()
const store = useSheetStore()
const account = useAccountStore()
const notices = useNoticesStore()
const api = useApi()
const isEnding = ref(false)
const isChoosing = ref(false)
const side = useTemplateRef<HTMLElement>('side')
useSkipTarget('the next step', () => side.value?.focus())
const isStarting = ref(false)
const isMoving = ref(false)
const sheet = computed(() => store.sheet!)
const isServed = computed(() => sheet.value.purpose === 'serve')
const words = computed(() => PURPOSE_WORDS[sheet.value.purpose])
const isServing = ref(false)
const hasEdits = computed(() => sheet.value.variants.some(({ edits }) => edits.length > 0))
const site = computed(() => account.site(sheet.value.siteId))
/** From when it runs, and until when at the latest. */
const run = computed(() => {
  const { startedAt, endedAt, plan, timeZone } = sheet.value
  const from = formatDate(startedAt!, timeZone)
  if (isServed.value)
    return endedAt ? `Served from ${from} to ${formatDate(endedAt, timeZone)}.` : `Served since ${from}.`
  if (endedAt) return `Ran from ${from} to ${formatDate(endedAt, timeZone)}.`
  const { longestWeeks } = plan
  const end = formatDate(plannedEnd({ startedAt, longestWeeks }), timeZone)
  return `Day ${dayOfRun({ startedAt }, timeZone)} of ${longestWeeks * 7}. Started ${from}, ends by ${end}.`
})
const liveAddress = computed(() => {
  const [rule] = sheet.value.pageRules
  const path = rule ? beginningPath(rule) : null
  return path !== null && site.value ? new URL(path, site.value.address).href : null
})

/** What is missing on the sheet itself, and what looking around has brought up. */
const findings = computed(() => [...sheet.value.preflight, ...(props.report?.findings ?? [])])
const stops = computed(() => findings.value.filter(({ isStop }) => isStop))

const move = (transition: 'start' | 'pause' | 'resume') =>
  attempt(
    () => store.move(transition),
    { start: words.value.started, pause: words.value.paused, resume: words.value.resumed }[transition],
  )
const end = (ending: EndInput) =>
  attempt(() => store.end(ending), ending.rollout ? 'Ended and rolled out.' : words.value.ended)

async function attempt(change: () => Promise<void>, done: string): Promise<void> {
  isMoving.value = true
  isEnding.value = false
  isStarting.value = false
  try {
    await change()
    notices.show(done)
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
  } finally {
    isMoving.value = false
  }
}
async function copy(): Promise<void> {
  const made = await api('copyExperiment', store.place)
  await navigateTo(`/sites/${made.siteId}/experiments/${made.id}`)
}
</script>

<template>
  <aside ref="side" tabindex="-1" class="flex flex-col gap-5 xl:sticky xl:top-8 xl:self-start" aria-label="Next step">
    <template v-if="sheet.state === 'draft'">
      <PreflightList :findings="findings" :is-looking="isLooking" :problem="problem" />
      <template v-if="mayEdit">
        <BaseButton
          kind="main"
          :disabled="stops.length > 0 || isMoving || store.isUnsaved || isLooking"
          @click="isStarting = true"
          >Start …</BaseButton
        >
        <p v-if="store.isUnsaved" class="text-sm text-ink-soft">You can start once everything is saved.</p>
      </template>
    </template>
    <template v-else>
      <p v-if="sheet.startedAt" class="text-sm">{{ run }}</p>
      <div v-if="mayEdit" class="flex flex-wrap gap-2">
        <BaseButton v-if="sheet.state === 'running'" :disabled="isMoving" @click="move('pause')">Pause</BaseButton>
        <BaseButton v-if="sheet.state === 'paused'" kind="main" :disabled="isMoving" @click="move('resume')"
          >Resume</BaseButton
        >
        <BaseButton v-if="sheet.state !== 'ended'" :disabled="isMoving" @click="isEnding = true">{{
          words.end
        }}</BaseButton>
      </div>
    </template>
    <RampNote v-if="sheet.ramp" :sheet="sheet" :ramp="sheet.ramp" :may-edit="mayEdit" />
    <EnvironmentShares v-if="sheet.state !== 'ended'" :sheet="sheet" :may-edit="mayEdit" />
    <SheetSchedule v-if="sheet.state !== 'ended'" :sheet="sheet" :may-edit="mayEdit" />
    <div class="flex flex-col items-start gap-1 text-sm">
      <NuxtLink
        v-if="sheet.state !== 'ended'"
        :to="`/sites/${sheet.siteId}/experiments/dry-run?experiment=${sheet.id}`"
        class="text-ink-soft underline hover:text-ink"
        >Dry run</NuxtLink
      >
      <a
        v-if="liveAddress"
        :href="liveAddress"
        target="_blank"
        rel="noopener"
        class="text-ink-soft underline hover:text-ink"
        >Open the live page</a
      >
      <button
        v-if="mayEdit && !isServed && sheet.factors.length === 0 && sheet.state !== 'draft'"
        type="button"
        class="text-ink-soft underline hover:text-ink"
        @click="isServing = true"
      >
        Draft a personalization …
      </button>
      <a
        v-if="hasEdits"
        :href="`/api/sites/${sheet.siteId}/experiments/${sheet.id}/developers.md`"
        class="text-ink-soft underline hover:text-ink"
        >Text for developers</a
      >
      <button v-if="mayEdit" type="button" class="text-ink-soft underline hover:text-ink" @click="copy">
        Make a copy
      </button>
      <button type="button" class="text-ink-soft underline hover:text-ink" @click="isChoosing = true">
        Notifications …
      </button>
    </div>
    <ToldDialog v-if="isChoosing" v-model:open="isChoosing" />
    <StartDialog
      v-model:open="isStarting"
      :sheet="sheet"
      :findings="findings"
      :forecast="report?.forecast ?? null"
      @start="move('start')"
    />
    <ServeDialog v-if="isServing" v-model:open="isServing" :sheet="sheet" />
    <StopDialog v-if="isServed" v-model:open="isEnding" @end="end" />
    <EndDialog v-else v-model:open="isEnding" :sheet="sheet" :verdict="results?.verdict ?? null" @end="end" />
  </aside>
</template>
