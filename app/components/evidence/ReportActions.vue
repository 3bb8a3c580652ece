<script setup lang="ts">
import type { STATED } from '~~/shared/evidence/operations'
import { FROZEN_REPORTS } from '~~/shared/findings/finding'

/** What can be done with every report: see how it is known, and pass it on. */
const props = defineProps<{
  siteId: number
  report: keyof typeof STATED
  question: object
  /** Of several forms in it the one that is looked at. */
  focus?: string
  /** The page that a finding of it is about. */
  page?: string | null
  /** What its numbers mean. */
  definition: string
}>()
const api = useApi()
/** A page’s flow is kept as that page’s figures, and of a list each by itself. */
const frozen = computed(() => FROZEN_REPORTS.find((each) => each === props.report) ?? null)
const notices = useNoticesStore()
const isOpen = ref(false)
const sql = ref<string | null>(null)
const problem = ref<string | null>(null)

async function open(): Promise<void> {
  isOpen.value = true
  sql.value = problem.value = null
  try {
    const body = { report: props.report, question: props.question }
    sql.value = (await api('stateReport', { site: props.siteId, body })).sql
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    problem.value = error.message
  }
}
async function copy(text: string, said: string): Promise<void> {
  try {
    await navigator.clipboard.writeText(text)
    notices.show(said)
  } catch {
    notices.show('The browser does not let Vetch copy. Copy the address by hand.', { tone: 'problem' })
  }
}
const link = () => window.location.href
</script>

<template>
  <span class="flex text-sm">
    <BaseButton kind="quiet" @click="open">How do you know?</BaseButton>
    <BaseButton kind="quiet" @click="copy(link(), 'The link is copied.')">Copy link</BaseButton>
    <KeepFinding v-if="frozen" :site-id="siteId" :report="frozen" :question="question" :focus="focus" :page="page" />
    <PlainDialog v-model:open="isOpen" title="How do you know?">
      <div class="flex flex-col gap-3" data-testid="statement">
        <p>{{ definition }}</p>
        <p v-if="problem" role="alert">{{ problem }}</p>
        <LoadingNote v-else-if="sql === null" />
        <template v-else>
          <p class="text-sm text-ink-soft">This SQL statement computes the same from raw views and events:</p>
          <StatementBlock :sql="sql" label="Statement" />
        </template>
      </div>
      <template #actions>
        <BaseButton v-if="sql" kind="quiet" @click="copy(sql, 'The statement is copied.')">Copy</BaseButton>
        <BaseButton @click="isOpen = false">Close</BaseButton>
      </template>
    </PlainDialog>
  </span>
</template>
