<script setup lang="ts">
import type { ExperimentResults, PreflightReport } from '~~/shared/experiment'

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
const isStarting = ref(false)
const isMoving = ref(false)
const sheet = computed(() => store.sheet!)
const site = computed(() => account.site(sheet.value.siteId))
const liveAddress = computed(() => {
  const [rule] = sheet.value.pageRules
  return rule && rule.match !== 'contains' && site.value ? new URL(rule.value, site.value.address).href : null
})

/** What is missing on the sheet itself, and what looking around has brought up. */
const findings = computed(() => [...sheet.value.preflight, ...(props.report?.findings ?? [])])
const stops = computed(() => findings.value.filter(({ isStop }) => isStop))

async function move(transition: 'start' | 'pause' | 'resume' | 'end'): Promise<void> {
  isMoving.value = true
  isEnding.value = false
  isStarting.value = false
  try {
    await store.move(transition)
    const words = {
      start: 'Started. Visitors get it within 10 seconds.',
      pause: 'Paused. Everybody sees the original.',
      resume: 'Running again.',
      end: 'Ended. Everybody sees the original.',
    }
    notices.show(words[transition])
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
  <aside class="flex flex-col gap-5 xl:sticky xl:top-8 xl:self-start" aria-label="Next step">
    <template v-if="sheet.state === 'draft'">
      <PreflightList :findings="findings" :is-looking="isLooking" :problem="problem" />
      <template v-if="mayEdit">
        <BaseButton kind="main" :disabled="stops.length > 0 || isMoving || store.isUnsaved" @click="isStarting = true"
          >Start …</BaseButton
        >
        <p v-if="store.isUnsaved" class="text-sm text-ink-soft">Starts once everything on the sheet is saved.</p>
      </template>
    </template>
    <template v-else>
      <div v-if="results?.verdict" class="text-sm">
        <h3 class="mb-1">{{ results.verdict.title }}</h3>
        <p v-for="reason in results.verdict.reasons" :key="reason">{{ reason }}</p>
      </div>
      <div v-if="mayEdit" class="flex flex-wrap gap-2">
        <BaseButton v-if="sheet.state === 'running'" :disabled="isMoving" @click="move('pause')">Pause</BaseButton>
        <BaseButton v-if="sheet.state === 'paused'" kind="main" :disabled="isMoving" @click="move('resume')"
          >Go on</BaseButton
        >
        <BaseButton v-if="sheet.state !== 'ended'" :disabled="isMoving" @click="isEnding = true">End …</BaseButton>
      </div>
    </template>
    <div class="flex flex-col items-start gap-1 text-sm">
      <a
        v-if="liveAddress"
        :href="liveAddress"
        target="_blank"
        rel="noopener"
        class="text-ink-soft underline hover:text-ink"
        >Open the live page</a
      >
      <button v-if="mayEdit" type="button" class="text-ink-soft underline hover:text-ink" @click="copy">
        Make a copy
      </button>
    </div>
    <StartDialog
      v-model:open="isStarting"
      :sheet="sheet"
      :findings="findings"
      :forecast="report?.forecast ?? null"
      @start="move('start')"
    />
    <PlainDialog v-model:open="isEnding" title="End this experiment?">
      <p>
        Everybody will see the original again, and no more visitors are counted. An ended experiment cannot be started
        again; a copy of it can.
      </p>
      <template #actions>
        <BaseButton kind="quiet" @click="isEnding = false">Keep it running</BaseButton>
        <BaseButton kind="main" @click="move('end')">End it</BaseButton>
      </template>
    </PlainDialog>
  </aside>
</template>
