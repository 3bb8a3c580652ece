<script setup lang="ts">
import { candidatesInWords, RULE_WORDS, type ShownCandidate } from '~/data/candidatesInWords'
import { newFindingDraft, findingBody } from '~/data/findingDraft'
import { saveFile } from '~/data/saveFile'
import type { TableColumn } from '~/data/tableColumn'
import { tableCsv } from '~/data/tableCsv'
import type { CandidatesView } from '~~/shared/evidence/reports'

/** What stands out by itself, each with why, and how often its rule is wrong. */
const props = defineProps<{ siteId: number; found: CandidatesView; filter: Filter; mayEdit: boolean }>()
const emit = defineEmits<{ kept: [] }>()
const api = useApi()
const notices = useNoticesStore()
const shown = computed(() => candidatesInWords(props.found, props.filter))
/** The rest is asked for. */
const FIRST = 3
const showsAll = ref(false)
const COLUMNS: TableColumn<ShownCandidate>[] = [
  { id: 'rule', header: 'Rule', value: ({ rule }) => RULE_WORDS[rule] },
  { id: 'page', header: 'Page', value: ({ page }) => page },
  { id: 'title', header: 'Worth a look', value: ({ title }) => title },
  { id: 'why', header: 'Why', value: ({ why }) => why },
]
const save = () => saveFile('worth-a-look.csv', tableCsv(COLUMNS, shown.value))
const busy = ref<string | null>(null)
/** What has been saved before is not saved again. */
const { value: known, reload } = useLoaded(() => api('listFindings', { site: props.siteId, query: {} }))
const findingOf = ({ title }: ShownCandidate) =>
  known.value?.findings.find((finding) => finding.title === titleOf(title))?.id ?? null
const titleOf = (title: string) => title.slice(0, 160)
async function tellKept(): Promise<void> {
  emit('kept')
  await reload()
}
const alarms = ({ rounds, alarms: wrong }: CandidatesView['rules'][number]['falseAlarms']) =>
  wrong === 0 ? `in none of ${rounds} rounds` : `in ${formatShare(wrong / rounds, 1)} of ${rounds} rounds`

async function keep({ key, title, why, page, report, question, focus, place }: ShownCandidate): Promise<void> {
  busy.value = key
  try {
    const draft = { ...newFindingDraft(page), title: titleOf(title), words: why }
    const body = { ...findingBody(draft), frozen: { report, question, focus, place }, pin: null }
    const { id } = await api('createFinding', { site: props.siteId, body })
    await tellKept()
    notices.show('Saved as a finding.', {
      undo: async () => {
        await api('deleteFinding', { site: props.siteId, finding: id })
        await tellKept()
      },
    })
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
  } finally {
    busy.value = null
  }
}
</script>

<template>
  <div class="flex flex-col gap-3">
    <div class="-ml-3 flex flex-wrap items-center gap-1 text-sm">
      <ReportActions
        :site-id="siteId"
        report="candidates"
        :question="filter"
        definition="Times and shares that are compared, of every field, element and page. Of those that differ by more than chance the largest are listed."
      />
      <BaseButton kind="quiet" aria-label="Export as CSV: Worth a look" :disabled="shown.length === 0" @click="save"
        >CSV</BaseButton
      >
    </div>
    <p v-if="shown.length === 0">Nothing stands out in these days.</p>
    <ul v-else class="flex flex-col">
      <li
        v-for="each in showsAll ? shown : shown.slice(0, FIRST)"
        :key="each.key"
        class="flex flex-wrap items-start justify-between gap-x-6 gap-y-1 border-b border-line py-2"
      >
        <span class="max-w-[75ch] min-w-0">
          <NuxtLink
            :to="`/sites/${siteId}/evidence/${each.place}`"
            class="font-medium break-words text-accent hover:underline"
            >{{ each.title }}</NuxtLink
          >
          <span class="block text-sm text-ink-soft">{{ each.why }}</span>
        </span>
        <NuxtLink
          v-if="findingOf(each)"
          :to="`/sites/${siteId}/evidence/findings/${findingOf(each)}`"
          class="py-1.5 text-accent hover:underline"
          :aria-label="`Saved as a finding: ${each.title}`"
          >Saved</NuxtLink
        >
        <BaseButton
          v-else-if="mayEdit"
          :disabled="busy !== null"
          :aria-label="`Save: ${each.title}`"
          @click="keep(each)"
          >Save</BaseButton
        >
      </li>
    </ul>
    <BaseButton v-if="shown.length > FIRST" class="-ml-3 self-start" kind="quiet" @click="showsAll = !showsAll">{{
      showsAll ? 'Show fewer' : `Show all ${shown.length}`
    }}</BaseButton>
    <details>
      <summary class="text-sm font-medium">How often is this wrong?</summary>
      <p class="my-2 max-w-[75ch] text-sm">
        At most 5 % of what a rule finds is expected to be chance. Each rule was also run on the same visits with
        devices, days and elements shuffled. There is nothing to find then:
      </p>
      <ul class="text-sm">
        <li v-for="each in found.rules" :key="each.rule">
          {{ RULE_WORDS[each.rule] }}: {{ formatCount(each.tested) }} looked at; reported something
          {{ alarms(each.falseAlarms) }}.
        </li>
      </ul>
    </details>
  </div>
</template>
