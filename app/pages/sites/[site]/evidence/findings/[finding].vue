<script setup lang="ts">
import type { FindingView } from '~~/shared/findings/replies'
import { findingBody, SOURCE_WORDS, STATE_CHOICES, type FindingDraft } from '~/data/findingDraft'
import type { FindingState } from '~~/shared/findings/finding'

const route = useRoute('sites-site-evidence-findings-finding')
const siteId = Number(route.params.site)
const findingId = Number(route.params.finding)
const place = { site: siteId, finding: findingId }
const api = useApi()
const account = useAccountStore()
const notices = useNoticesStore()
const timeZone = computed(() => account.site(siteId)?.timeZone ?? 'UTC')
const mayEdit = computed(() => account.site(siteId)?.role !== 'viewer')
const { value: finding, problem, reload } = useLoaded(() => api('readFinding', place))
useHead({ title: () => `${finding.value?.title ?? 'Finding'} · Vetch` })
const hasFigures = computed(() => (finding.value?.frozen?.figures.length ?? 0) > 0)
const {
  value: now,
  problem: nowProblem,
  isLoading: isAsking,
  reload: askNow,
} = useLoaded(async () => (hasFigures.value ? api('readFindingNow', place) : null))
watch(hasFigures, askNow)

/** The view of what was asked then, also where its address says less: days back from today, a funnel by its number. */
const frozenPlace = computed(() => {
  const { place: view = '', question, report, focus } = finding.value?.frozen ?? {}
  const url = new URL(view, 'https://view.invalid/')
  const { from, to, plan } = (question ?? {}) as Partial<Filter> & { plan?: object }
  if (report === 'forms' && focus) url.searchParams.set('form', focus)
  if (plan) {
    url.searchParams.delete('funnel')
    url.searchParams.set('plan', JSON.stringify(plan))
  }
  if (from && to) {
    url.searchParams.delete('days')
    url.searchParams.set('from', from)
    url.searchParams.set('to', to)
  }
  return `/sites/${siteId}/evidence${url.pathname}${url.search}`
})

const draftOf = ({ title, words, severity, tags, page }: FindingView): FindingDraft => ({
  title,
  words,
  severity,
  tags: tags.join(', '),
  page: page ?? '',
})
const draft = ref<FindingDraft | null>(null)
const { errors, save } = useSaving()
/** The change stands on its own sheet, and the finding leads to it by a hypothesis of the same name. */
const makePersonalization = () =>
  save(async () => {
    const { title } = finding.value!
    const { id: hypothesis } = await api('createHypothesis', { site: siteId, body: { title, findings: [findingId] } })
    const { id } = await api('makeExperiment', { site: siteId, hypothesis, body: { purpose: 'serve' } })
    notices.show('The draft is filled from the finding.')
    await navigateTo(`/sites/${siteId}/experiments/${id}`)
  })
const startWriting = () => (draft.value = draftOf(finding.value!))

async function change(changes: FindingDraft, state: FindingState, said: string): Promise<void> {
  const before = finding.value!
  await save(async () => {
    const body = { ...findingBody(changes), state, version: before.version }
    finding.value = await api('updateFinding', { ...place, body })
    draft.value = null
    notices.show(said, { undo: () => change(draftOf(before), before.state, 'Restored.') })
  })
}
const state = computed({
  get: () => finding.value!.state,
  set: (value) => void change(draftOf(finding.value!), value, `It is ${value}.`),
})
const isDeleting = ref(false)
async function remove(): Promise<void> {
  await api('deleteFinding', place)
  notices.show('Deleted the finding.')
  await navigateTo(`/sites/${siteId}/evidence/findings`)
}
async function part(id: number): Promise<void> {
  await api('mergeFinding', { site: siteId, finding: id, body: { into: null } })
  await reload()
  notices.show('The merge is undone.', {
    undo: async () => {
      await api('mergeFinding', { site: siteId, finding: id, body: { into: findingId } })
      await reload()
    },
  })
}
const isTaking = ref(false)
async function photograph(): Promise<void> {
  isTaking.value = true
  try {
    await api('photographFinding', place)
    await reload()
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
  } finally {
    isTaking.value = false
  }
}
</script>

<template>
  <div class="p-6 lg:p-8">
    <EvidenceHead :site-id="siteId" note="What was seen, each with its proof" />
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!finding" />
    <ThreadLine v-if="finding" :id="findingId" :site-id="siteId" of="finding" />
    <div v-if="finding" class="flex max-w-4xl flex-col gap-8">
      <p v-if="finding.into" class="border-l-4 border-line-strong py-1 pl-3">
        Merged into
        <NuxtLink :to="`/sites/${siteId}/evidence/findings/${finding.into.id}`" class="text-accent underline">{{
          finding.into.title
        }}</NuxtLink>.
      </p>
      <form
        v-if="draft"
        class="flex flex-col gap-3"
        novalidate
        @submit.prevent="change(draft!, finding!.state, 'Saved.')"
      >
        <FindingFields v-model="draft" :errors="errors" />
        <span class="flex gap-2">
          <BaseButton type="submit" kind="main">Save</BaseButton>
          <BaseButton kind="quiet" @click="draft = null">Cancel</BaseButton>
        </span>
      </form>
      <section v-else>
        <h2 class="text-xl">{{ finding.title }}</h2>
        <p class="text-sm text-ink-soft">
          From {{ SOURCE_WORDS[finding.source] }}, by {{ finding.person ?? 'a program' }} on
          {{ formatDate(finding.createdAt, timeZone) }}. Severity: {{ finding.severity
          }}<template v-if="finding.page"
            >. Page: <span class="font-mono text-xs">{{ finding.page }}</span></template
          ><template v-if="finding.tags.length > 0">. Tags: {{ finding.tags.join(', ') }}</template
          >.
        </p>
        <p v-if="finding.words" class="mt-3 max-w-[70ch] break-words whitespace-pre-line">{{ finding.words }}</p>
        <div v-if="mayEdit" class="mt-4 flex flex-wrap items-end gap-3">
          <ChoiceField v-model="state" class="w-36" label="State" :choices="STATE_CHOICES" />
          <BaseButton kind="main" @click="navigateTo(`/sites/${siteId}/hypotheses/new?findings=${findingId}`)"
            >Write a hypothesis</BaseButton
          >
          <BaseButton @click="makePersonalization">Make a personalization</BaseButton>
          <BaseButton @click="startWriting">Change</BaseButton>
          <BaseButton kind="quiet" @click="isDeleting = true">Delete …</BaseButton>
        </div>
      </section>
      <section v-if="finding.frozen" aria-labelledby="frozen">
        <h2 id="frozen" class="mb-2">The view that was frozen</h2>
        <p class="mb-3">
          <NuxtLink :to="frozenPlace" class="text-accent underline">Open it</NuxtLink>, as it was asked on
          {{ formatTime(finding.frozen.at, timeZone) }}.
        </p>
        <ProblemNote v-if="nowProblem" :text="nowProblem" @retry="askNow" />
        <ThenAndNow
          v-if="hasFigures"
          :frozen="finding.frozen"
          :now="now"
          :class="{ 'opacity-60': isAsking }"
          :aria-busy="isAsking"
        />
      </section>
      <section v-if="finding.pin" aria-labelledby="pinned">
        <h2 id="pinned" class="mb-2">Pinned to</h2>
        <p>
          “{{ finding.pin.element }}” on <span class="font-mono text-xs">{{ finding.pin.path }}</span>,
          <code class="font-mono text-xs">{{ finding.pin.selector }}</code>
        </p>
        <BaseButton v-if="mayEdit" class="mt-2" :disabled="isTaking" @click="photograph">{{
          isTaking ? 'Taking the picture …' : finding.picture ? 'Take a picture of it now' : 'Take a picture'
        }}</BaseButton>
      </section>
      <AttachmentList
        :id="findingId"
        :site-id="siteId"
        of="finding"
        :attachments="finding.attachments"
        :may-edit="mayEdit"
        @changed="reload"
      />
      <section v-if="finding.merged.length > 0" aria-labelledby="merged">
        <h2 id="merged" class="mb-2">Merged findings</h2>
        <ul class="flex flex-col gap-1">
          <li v-for="each in finding.merged" :key="each.id">
            <NuxtLink :to="`/sites/${siteId}/evidence/findings/${each.id}`" class="text-accent underline">{{
              each.title
            }}</NuxtLink>
            <span v-if="each.person" class="text-ink-soft"> by {{ each.person }}</span>
            <BaseButton v-if="mayEdit" kind="quiet" @click="part(each.id)">Undo the merge</BaseButton>
          </li>
        </ul>
      </section>
    </div>
    <PlainDialog v-model:open="isDeleting" title="Delete this finding?">
      <p>Its figures and files are deleted, too. This cannot be undone. “Set aside” keeps it.</p>
      <template #actions>
        <BaseButton kind="quiet" @click="isDeleting = false">Cancel</BaseButton>
        <BaseButton kind="main" @click="remove">Delete</BaseButton>
      </template>
    </PlainDialog>
  </div>
</template>
