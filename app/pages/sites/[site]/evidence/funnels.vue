<script setup lang="ts">
import { namedPath } from '~~/core/targeting/pageRule'
import { messagesByField } from '~~/shared/api/messagesByField'
import type { SavedFunnel } from '~~/shared/evidence/replies'
import { funnelPlanSchema, type FunnelInput } from '~~/shared/evidence/funnel'

useHead({ title: 'Funnels · Vetch' })
const route = useRoute('sites-site-evidence-funnels')
const siteId = Number(route.params.site)
const account = useAccountStore()
const notices = useNoticesStore()
const evidence = useEvidence(siteId)
const { api, filter, daysBack, compare, set, choices, comparedName, shownName, timeZone } = evidence
const mayEdit = computed(() => account.site(siteId)?.role !== 'viewer')
const { value: saved, reload: reloadSaved } = useLoaded(() => api('listFunnels', { site: siteId }))
const { kept, plan, isReady, isNew, isChanged, write, open, begin } = useFunnelPlan(() => saved.value ?? [])
const isEditing = ref(false)
const errors = ref<Record<string, string>>({})
const name = ref('')
const step = ref<number | null>(null)

const ask = async (of: Filter) =>
  isReady.value ? api('reportFunnel', { site: siteId, body: { ...of, plan: plan.value } }) : null
const { value: loaded, problem, isLoading, reload } = useReport(evidence, ask, () => plan.value)
// The first of those that were saved is shown where the address names none.
watch(saved, (list) => list?.[0] && !isReady.value && !isNew.value && open(list[0].id))

function apply(next: FunnelInput): void {
  const wrong = messagesByField(funnelPlanSchema, next)
  errors.value = Object.fromEntries(Object.entries(wrong).map(([path, message]) => [`plan.${path}`, message]))
  if (Object.keys(wrong).length === 0) write(funnelPlanSchema.validateSync(next))
}
async function save(work: Promise<SavedFunnel>, said: string): Promise<void> {
  try {
    const { id } = await work
    await reloadSaved()
    open(id)
    name.value = ''
    notices.show(said)
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
  }
}
const add = () => save(api('createFunnel', { site: siteId, body: { name: name.value, plan: plan.value } }), 'Saved.')
const change = () =>
  save(
    api('updateFunnel', { site: siteId, funnel: kept.value!.id, body: { name: kept.value!.name, plan: plan.value } }),
    'Saved.',
  )
async function remove({ id, name: called, plan: way }: SavedFunnel): Promise<void> {
  await api('deleteFunnel', { site: siteId, funnel: id })
  open(null)
  await reloadSaved()
  notices.show(`Deleted ${called}.`, {
    undo: () => save(api('createFunnel', { site: siteId, body: { name: called, plan: way } }), 'Restored.'),
  })
}
/** The page of the step after which most are gone. */
const pageLeft = computed(() => {
  const reached = loaded.value?.report?.steps.map((each) => each.reached) ?? []
  const lost = reached.slice(0, -1).map((count, index) => count - reached[index + 1]!)
  const source = plan.value.steps[lost.indexOf(Math.max(...lost))]
  return source?.type === 'visit' ? namedPath(source.page) : null
})
const DEFINITION =
  'Sessions that began in these days, or visitors with such sessions. Each step is taken at its earliest time after the one before; of several tries the furthest counts, of equal ones the first.'
</script>

<template>
  <div class="p-6 lg:p-8">
    <EvidenceHead :site-id="siteId" note="How many take each step of a way, and where they leave it" />
    <div class="mb-5">
      <FilterBar :filter="filter" :days-back="daysBack" :choices="choices" :compare="compare" @change="set" />
    </div>
    <div class="mb-5 flex flex-wrap items-center gap-x-3 gap-y-2">
      <NuxtLink
        v-for="each in saved ?? []"
        :key="each.id"
        :to="{ query: { ...route.query, plan: undefined, funnel: String(each.id) } }"
        class="rounded border px-3 py-1"
        :class="each.id === kept?.id ? 'border-accent text-accent' : 'border-line-strong hover:bg-neutral-soft'"
        >{{ each.name }}</NuxtLink
      >
      <BaseButton @click="begin">New funnel</BaseButton>
      <BaseButton v-if="isReady" kind="quiet" @click="isEditing = !isEditing">{{
        isEditing ? 'Close the steps' : 'Edit the steps'
      }}</BaseButton>
      <BaseButton v-if="kept && mayEdit" kind="quiet" @click="remove(kept)">Delete</BaseButton>
      <template v-if="isChanged">
        <BaseButton v-if="mayEdit" kind="main" :aria-label="`Save ${kept!.name}`" @click="change">Save</BaseButton>
        <BaseButton kind="quiet" @click="open(kept!.id)">Discard the changes</BaseButton>
      </template>
    </div>
    <section
      v-if="isEditing || (saved && !isReady)"
      class="mb-6 border-y border-line py-4"
      aria-label="Steps of the funnel"
    >
      <FunnelForm :plan="plan" :choices="choices" :errors="errors" @apply="apply" />
      <form v-if="isReady && mayEdit" class="mt-4 flex items-end gap-3" @submit.prevent="add">
        <TextField v-model="name" class="w-64" label="Name" placeholder="Booking" />
        <BaseButton type="submit" :disabled="!String(name ?? '').trim()">{{
          kept ? 'Save as a new funnel' : 'Save'
        }}</BaseButton>
      </form>
    </section>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!loaded && isReady" />
    <div
      v-else-if="loaded?.report"
      class="flex max-w-5xl flex-col gap-6"
      :class="{ 'opacity-60': isLoading }"
      :aria-busy="isLoading"
    >
      <div class="flex justify-end">
        <ReportActions
          :site-id="siteId"
          report="funnel"
          :question="{ ...filter, plan }"
          :page="pageLeft"
          :definition="DEFINITION"
        />
      </div>
      <FunnelDrawing
        :plan="plan"
        :report="loaded.report"
        :other="loaded.other"
        :name="shownName"
        :other-name="comparedName"
        :is-independent="compare !== EVERYBODY"
        @left="step = $event"
      />
      <FunnelTrend
        :report="loaded.report"
        :other="loaded.other"
        :name="shownName"
        :other-name="comparedName"
        :time-zone="timeZone"
      />
    </div>
    <FunnelLeft
      v-if="step !== null"
      :site-id="siteId"
      :filter="filter"
      :plan="plan"
      :step="step"
      :time-zone="timeZone"
      @close="step = null"
    />
  </div>
</template>
