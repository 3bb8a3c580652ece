<script setup lang="ts">
import { STAGE_CHOICES } from '~/data/hypothesisDraft'
import { ideaPages } from '~/data/ideaWords'

useHead({ title: 'Hypotheses · Vetch' })
const route = useRoute('sites-site-hypotheses-list')
const siteId = Number(route.params.site)
const notices = useNoticesStore()
const {
  value: loaded,
  problem,
  isLoading,
  reload,
  api,
  metrics,
  progress,
  figuresProblem,
  stop,
  timeZone,
  mayEdit,
} = useIdeas(siteId)
const { choices } = useEvidence(siteId)
const { search, page, tag, owner, stage, isFiltered, filter } = useIdeaFilter()
const typed = ref(search.value)
watchDebounced(typed, (text) => (search.value = text), { debounce: 150 })
const shown = computed(() => filter(loaded.value?.hypotheses ?? []))
/** Kept in the address, as the filter is. */
const changeQuery = useQueryChange()
const sort = computed({
  get: () => (typeof route.query.sort === 'string' ? route.query.sort : ''),
  set: (value: string) => changeQuery(({ sort: _, ...rest }) => (value ? { ...rest, sort: value } : rest)),
})
const all = computed(() => loaded.value?.hypotheses ?? [])
const known = (values: string[]) => [...new Set(values)].sort((a, b) => a.localeCompare(b, 'en'))
const pages = computed(() => known(all.value.flatMap((each) => each.pages ?? [])))
const tags = computed(() => known(all.value.flatMap((each) => each.tags)))

const moving = ref<{ id: number; place: number } | null>(null)
const isOpenTerms = ref(false)
const moved = computed(() => all.value.find(({ id }) => id === moving.value?.id) ?? null)

async function put(id: number, place: number | null, reason: string | null): Promise<void> {
  await api('placeHypothesis', { site: siteId, hypothesis: id, body: { place, reason } })
  await reload()
}
async function place(to: number | null, reason: string | null): Promise<void> {
  const before = moved.value!
  try {
    await put(before.id, to, reason)
    moving.value = null
    notices.show(to === null ? 'It stands where the ranking puts it.' : `${before.title} stands at place ${to}.`, {
      undo: () => put(before.id, before.handPlace, before.handReason),
    })
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
  }
}
useShortcuts([
  {
    keys: 'n',
    label: 'Write a hypothesis',
    run: () => void navigateTo(`/sites/${siteId}/hypotheses/new`),
    isOn: () => mayEdit.value,
  },
])
</script>

<template>
  <div class="p-6 lg:p-8">
    <HypothesesHead :site-id="siteId" note="What to test next: by what it is worth, and what it costs to learn" />
    <div class="mb-5 flex flex-wrap items-end gap-x-4 gap-y-3">
      <TextField v-model="typed" class="w-44" label="Search" type="search" />
      <ChoiceField
        v-model="page"
        class="w-40"
        label="Pages"
        :choices="[{ value: '', label: 'any pages' }, ...pages.map((value) => ({ value, label: ideaPages(value) }))]"
      />
      <ChoiceField
        v-model="tag"
        class="w-28"
        label="Tag"
        :choices="[{ value: '', label: 'any tag' }, ...tags.map((value) => ({ value, label: value }))]"
      />
      <ChoiceField
        v-model="owner"
        class="w-32"
        label="Owner"
        :choices="[
          { value: '', label: 'anybody' },
          { value: 'none', label: 'nobody' },
          ...(loaded?.people ?? []).map(({ id, name }) => ({ value: String(id), label: name })),
        ]"
      />
      <ChoiceField
        v-model="stage"
        class="w-36"
        label="Stage"
        :choices="[{ value: '', label: 'any stage' }, ...STAGE_CHOICES]"
      />
      <BaseButton v-if="mayEdit" class="ml-auto" kind="main" @click="navigateTo(`/sites/${siteId}/hypotheses/new`)"
        >Write a hypothesis</BaseButton
      >
    </div>
    <JobProgress
      v-if="progress !== null"
      class="mb-4"
      title="Computing reach and rates of the last four weeks"
      :progress="progress"
      @cancel="stop"
    />
    <p v-else-if="figuresProblem" class="mb-4 text-rust" role="alert">
      Reach and rates are not of today: {{ figuresProblem }}
    </p>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!loaded" />
    <EmptyNote v-else-if="all.length === 0" text="No hypotheses yet. Start from findings or from an idea of your own.">
      <span class="flex gap-2">
        <BaseButton @click="navigateTo(`/sites/${siteId}/evidence/findings`)">Go to the findings</BaseButton>
        <BaseButton v-if="mayEdit" kind="quiet" @click="navigateTo(`/sites/${siteId}/hypotheses/import`)"
          >Import a CSV file</BaseButton
        >
      </span>
    </EmptyNote>
    <EmptyNote v-else-if="shown.length === 0 && isFiltered" text="No hypothesis matches. Remove a filter." />
    <div v-else :class="{ 'opacity-60': isLoading }" :aria-busy="isLoading">
      <HypothesisTable
        v-model:sort="sort"
        :site-id="siteId"
        :hypotheses="shown"
        :metrics="metrics"
        :terms="loaded.terms"
        :currency="loaded.currency"
        :time-zone="timeZone"
        :choices="choices"
        :may-edit="mayEdit"
        @move="(id, to) => (moving = { id, place: to })"
      >
        <template #actions>
          <BaseButton kind="quiet" @click="isOpenTerms = true">Ranked by …</BaseButton>
          <BaseButton v-if="mayEdit" kind="quiet" @click="navigateTo(`/sites/${siteId}/hypotheses/import`)"
            >Import …</BaseButton
          >
        </template>
      </HypothesisTable>
      <RankingNote class="mt-4" :terms="loaded.terms" :past="loaded.past" :currency="loaded.currency" />
    </div>
    <MoveDialog
      v-if="moving && moved"
      :key="`${moving.id} ${moving.place}`"
      :hypothesis="moved"
      :place="moving.place"
      :count="all.length"
      @close="moving = null"
      @place="place"
    />
    <TermsDrawer
      v-if="loaded"
      v-model:open="isOpenTerms"
      :site-id="siteId"
      :terms="loaded.terms"
      :metrics="loaded.metrics"
      :currency="loaded.currency"
      :may-edit="mayEdit"
      @changed="reload"
    />
  </div>
</template>
