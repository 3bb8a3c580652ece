<script setup lang="ts">
import type { CommentView, HypothesisView } from '~~/shared/hypotheses/replies'
import { draftOfHypothesis, hypothesisBody, type HypothesisDraft } from '~/data/hypothesisDraft'
import { ideaPages } from '~/data/ideaWords'
import type { Purpose } from '~~/core/sheet/content'
import type { Stage } from '~~/shared/hypotheses/hypothesis'

const route = useRoute('sites-site-hypotheses-hypothesis')
const siteId = Number(route.params.site)
const hypothesisId = Number(route.params.hypothesis)
const place = { site: siteId, hypothesis: hypothesisId }
const notices = useNoticesStore()
const { value: view, problem: listProblem, reload: reloadView, api, metrics, timeZone, mayEdit } = useIdeas(siteId)
const { value: idea, problem, reload } = useLoaded(() => api('readHypothesis', place))
// Figures that were missing are there once the list has them.
watch(view, () => void reload())
const { choices } = useEvidence(siteId)
useHead({ title: () => `${idea.value?.title ?? 'Hypothesis'} · Vetch` })
const metric = computed(() => metrics.value.get(idea.value?.metric ?? ''))
const expected = computed(() => {
  const { metric: id, audience, low, likely, high, effortDays } = idea.value!
  const typed = low === null || likely === null || high === null ? null : { low, likely, high }
  return { metric: id, audience, likely, effortDays, typed }
})
const thread = useTemplateRef('thread')

const draft = ref<HypothesisDraft | null>(null)
/** What the draft was begun from: it may be read anew meanwhile, and nobody writes over what they have not seen. */
const begun = ref<HypothesisView | null>(null)
function startWriting(): void {
  begun.value = idea.value!
  draft.value = draftOfHypothesis(idea.value!)
}
const { errors, isSaving, save } = useSaving()
async function change(changes: HypothesisDraft, before: HypothesisView, said: string): Promise<void> {
  const isSaved = await save(async () => {
    const body = { ...hypothesisBody(changes), version: before.version }
    idea.value = await api('updateHypothesis', { ...place, body })
    draft.value = null
    void reloadView()
    void thread.value?.reload()
    const made = idea.value!
    notices.show(said, { undo: () => change(draftOfHypothesis(before), made, 'Restored.') })
  })
  if (isSaved || !draft.value) return
  // What was typed stays. Once somebody else's change has been read, saving again is meant.
  await reload()
  if (idea.value!.version === before.version) return
  begun.value = idea.value
  notices.show('What you wrote is still here. Saving again writes over the change; Cancel shows it.')
}
async function attempt(work: () => Promise<void>): Promise<void> {
  try {
    await work()
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
  }
}
const move = (stage: Stage, reason: string | null) =>
  attempt(async () => {
    const before = idea.value!.stage
    idea.value = await api('setHypothesisStage', { ...place, body: { stage, reason } })
    void thread.value?.reload()
    const undo = () => move(before, 'Moved by mistake.')
    notices.show(`It is ${stage === 'new' ? 'new again' : stage} now.`, { undo })
  })
const makeExperiment = (purpose: Purpose) =>
  attempt(async () => {
    const { id } = await api('makeExperiment', { ...place, body: { purpose } })
    notices.show('The draft is filled from the hypothesis.')
    await navigateTo(`/sites/${siteId}/experiments/${id}`)
  })
const remove = () =>
  attempt(async () => {
    await api('deleteHypothesis', place)
    await navigateTo(`/sites/${siteId}/hypotheses/list`)
    notices.show('Deleted the hypothesis.', {
      undo: async () => {
        await api('restoreHypothesis', place)
        await navigateTo(`/sites/${siteId}/hypotheses/${hypothesisId}`)
      },
    })
  })
const facts = ({ owner, person, createdAt, tags }: HypothesisView) =>
  [
    `Written by ${person ?? 'a program'} on ${formatDate(createdAt, timeZone.value)}`,
    owner ? `owner: ${owner.name}` : 'no owner',
    ...(tags.length > 0 ? [`tags: ${tags.join(', ')}`] : []),
  ].join(' · ')

const say = async (words: string) => {
  await api('addHypothesisComment', { ...place, body: { words } })
  await reload()
}
const takeBack = async ({ id }: CommentView) => {
  await api('deleteHypothesisComment', { ...place, comment: id })
  await reload()
}
</script>

<template>
  <div class="p-6 lg:p-8">
    <HypothesesHead :site-id="siteId" note="What is expected of a change, and why" />
    <ProblemNote v-if="problem ?? listProblem" :text="(problem ?? listProblem)!" @retry="reload" />
    <LoadingNote v-else-if="!idea || !view" />
    <template v-else>
      <ThreadLine :id="hypothesisId" ref="thread" :site-id="siteId" of="hypothesis" />
      <HypothesisEditor
        v-if="draft"
        v-model="draft"
        :site-id="siteId"
        :view="view"
        :errors="errors"
        :is-saving="isSaving"
        :hypothesis="hypothesisId"
        @save="change(draft!, begun!, 'Saved.')"
        @cancel="draft = null"
      />
      <div v-else class="grid gap-x-10 gap-y-8 xl:grid-cols-[minmax(0,42rem)_minmax(0,26rem)]">
        <div class="flex flex-col gap-8">
          <section>
            <h2 class="text-xl">{{ idea.title }}</h2>
            <p class="text-sm text-ink-soft">{{ facts(idea) }}</p>
            <p class="mt-3 max-w-[70ch] break-words whitespace-pre-line" data-testid="statement">
              {{ idea.statement ?? idea.assembled }}
            </p>
            <p class="mt-2 text-sm text-ink-soft">
              On {{ ideaPages(idea.pages) }}, for {{ segmentInWords(idea.audience ?? undefined, choices)
              }}<template v-if="metric"
                >; {{ metric.name }} is to {{ idea.direction === 'up' ? 'rise' : 'fall' }}</template
              >.
            </p>
            <p v-if="idea.stageReason" class="mt-2 border-l-4 border-line-strong py-1 pl-3">
              {{ idea.stage === 'set aside' ? 'Set aside' : 'Taken up again' }}: {{ idea.stageReason }}
            </p>
            <div v-if="mayEdit" class="mt-4 flex flex-wrap items-end gap-3">
              <StageField class="w-40" :stage="idea.stage" :title="idea.title" @move="move" />
              <BaseButton kind="main" @click="makeExperiment('test')">Make an experiment</BaseButton>
              <BaseButton @click="makeExperiment('serve')">Make a personalization</BaseButton>
              <BaseButton @click="startWriting">Change</BaseButton>
              <BaseButton kind="quiet" @click="remove">Delete</BaseButton>
            </div>
            <p v-else class="mt-3">Stage: {{ idea.stage }}</p>
          </section>
          <CommentList
            :comments="idea.comments"
            :people="view.people"
            :time-zone="timeZone"
            :say="say"
            :take-back="takeBack"
          />
          <AttachmentList
            :id="hypothesisId"
            :site-id="siteId"
            of="hypothesis"
            :attachments="idea.attachments"
            :may-edit="mayEdit"
            @changed="reload"
          />
          <ChangeHistory
            :load="
              (after) => api('listHypothesisChanges', { site: siteId, hypothesis: hypothesisId, query: { after } })
            "
            :version="idea.version"
            :time-zone="timeZone"
          />
        </div>
        <section aria-labelledby="worth">
          <h2 id="worth" class="mb-2">Worth, and cost to learn</h2>
          <IdeaAssessment
            :site-id="siteId"
            :assessment="idea.assessment"
            :idea="expected"
            :metric="metric"
            :terms="view.terms"
            :past="view.past"
            :currency="view.currency"
          />
        </section>
      </div>
    </template>
  </div>
</template>
