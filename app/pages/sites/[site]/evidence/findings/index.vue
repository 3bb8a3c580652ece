<script setup lang="ts">
import { newFindingDraft, findingBody, SOURCE_WORDS, STATE_CHOICES } from '~/data/findingDraft'
import { FINDING_SOURCES } from '~~/shared/findings/finding'

useHead({ title: 'Findings · Vetch' })
const route = useRoute('sites-site-evidence-findings')
const siteId = Number(route.params.site)
const { api, filter, daysBack, set, choices } = useEvidence(siteId)
const account = useAccountStore()
const notices = useNoticesStore()
const timeZone = computed(() => account.site(siteId)?.timeZone ?? 'UTC')
const mayEdit = computed(() => account.site(siteId)?.role !== 'viewer')
const { asked, search, page, tag, source, state } = useFindingFilter()
const typed = ref(search.value)
watchDebounced(typed, (text) => (search.value = text), { debounce: 250 })
const {
  value: loaded,
  problem,
  isLoading,
  reload,
} = useLoaded(() => api('listFindings', { site: siteId, query: asked.value }))
watch(asked, reload)
const withAny = (values: readonly string[], all: string) => [
  { value: '', label: all },
  ...values.map((value) => ({ value, label: value })),
]
const isFiltered = computed(() => Object.keys(asked.value).length > 0)

const isWriting = ref(false)
const draft = ref(newFindingDraft())
const { errors, isSaving, save } = useSaving()
const write = () =>
  save(async () => {
    const body = { ...findingBody(draft.value), frozen: null, pin: null }
    const { id } = await api('createFinding', { site: siteId, body })
    isWriting.value = false
    draft.value = newFindingDraft()
    await navigateTo(`/sites/${siteId}/evidence/findings/${id}`)
  })

const chosen = ref<number[]>([])
const merging = computed(() => (loaded.value?.findings ?? []).filter(({ id }) => chosen.value.includes(id)))
const isMerging = ref(false)
const mergedInto = ref(0)
watch(isMerging, () => (mergedInto.value = merging.value[0]?.id ?? 0))
async function merge(into: number): Promise<void> {
  const others = merging.value.filter(({ id }) => id !== into).map(({ id }) => id)
  isMerging.value = false
  try {
    for (const finding of others) await api('mergeFinding', { site: siteId, finding, body: { into } })
    chosen.value = []
    await reload()
    notices.show('Merged.', {
      undo: async () => {
        for (const finding of others) await api('mergeFinding', { site: siteId, finding, body: { into: null } })
        await reload()
      },
    })
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
    await reload()
  }
}
</script>

<template>
  <div class="p-6 lg:p-8">
    <EvidenceHead :site-id="siteId" note="What was seen, each with its proof" />
    <WorthALook
      class="mb-10"
      :site-id="siteId"
      :filter="filter"
      :days-back="daysBack"
      :choices="choices"
      :may-edit="mayEdit"
      @change="set"
      @kept="reload"
    />
    <h2 class="mb-3">Findings</h2>
    <div class="mb-5 flex flex-wrap items-end gap-x-4 gap-y-3">
      <TextField v-model="typed" class="w-44" label="Search" type="search" />
      <ChoiceField v-model="page" class="w-36" label="Page" :choices="withAny(loaded?.pages ?? [], 'any page')" />
      <ChoiceField v-model="tag" class="w-28" label="Tag" :choices="withAny(loaded?.tags ?? [], 'any tag')" />
      <ChoiceField
        v-model="source"
        class="w-36"
        label="From"
        :choices="[
          { value: '', label: 'anywhere' },
          ...FINDING_SOURCES.map((value) => ({ value, label: SOURCE_WORDS[value] })),
        ]"
      />
      <ChoiceField
        v-model="state"
        class="w-28"
        label="State"
        :choices="[{ value: '', label: 'any state' }, ...STATE_CHOICES]"
      />
      <span v-if="mayEdit" class="ml-auto flex gap-2">
        <BaseButton @click="navigateTo(`/sites/${siteId}/evidence/findings/pin`)">Pin one to a page</BaseButton>
        <BaseButton kind="main" @click="isWriting = true">Write a finding</BaseButton>
      </span>
    </div>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!loaded" />
    <EmptyNote
      v-else-if="loaded.findings.length === 0"
      :text="
        isFiltered
          ? 'No finding matches. Remove a filter.'
          : 'No findings yet. In any view of Evidence, press f to save what you see.'
      "
    />
    <div v-else :class="{ 'opacity-60': isLoading }" :aria-busy="isLoading">
      <p v-if="chosen.length > 0" class="mb-2 flex items-center gap-3">
        {{ chosen.length }} chosen.
        <BaseButton @click="navigateTo(`/sites/${siteId}/hypotheses/new?findings=${chosen.join(',')}`)"
          >Write a hypothesis</BaseButton
        >
        <BaseButton v-if="chosen.length > 1" @click="isMerging = true">Merge them …</BaseButton>
        <BaseButton kind="quiet" @click="chosen = []">Choose none</BaseButton>
      </p>
      <FindingTable
        v-model:chosen="chosen"
        :site-id="siteId"
        :findings="loaded.findings"
        :time-zone="timeZone"
        :may-edit="mayEdit"
      />
    </div>
    <PlainDialog v-model:open="isWriting" title="Write a finding">
      <form id="write-finding" novalidate @submit.prevent="write">
        <FindingFields v-model="draft" :errors="errors" />
        <p class="mt-3 text-sm text-ink-soft">You can attach files once it is saved.</p>
      </form>
      <template #actions>
        <BaseButton kind="quiet" @click="isWriting = false">Cancel</BaseButton>
        <BaseButton kind="main" type="submit" form="write-finding" :disabled="isSaving">Save</BaseButton>
      </template>
    </PlainDialog>
    <PlainDialog v-model:open="isMerging" title="Merge into which finding?">
      <p class="mb-3">The others are listed with it. You can undo this.</p>
      <ul class="flex flex-col gap-2">
        <li v-for="each in merging" :key="each.id">
          <label class="flex items-center gap-2">
            <input v-model="mergedInto" type="radio" name="merge-into" :value="each.id" class="accent-accent" />
            {{ each.title }}
          </label>
        </li>
      </ul>
      <template #actions>
        <BaseButton kind="quiet" @click="isMerging = false">Cancel</BaseButton>
        <BaseButton kind="main" @click="merge(mergedInto)">Merge</BaseButton>
      </template>
    </PlainDialog>
  </div>
</template>
