<script setup lang="ts">
const STATES = [
  { value: '', label: 'all' },
  { value: 'draft', label: 'draft' },
  { value: 'running', label: 'running' },
  { value: 'paused', label: 'paused' },
  { value: 'ended', label: 'ended' },
]

useHead({ title: 'Experiments · Vetch' })
const api = useApi()
const account = useAccountStore()
const route = useRoute('sites-site-experiments')
const siteId = Number(route.params.site)
/** What the list shows is in the address: a link to it shows the same. */
const search = ref(String(route.query.search ?? ''))
const state = ref(STATES.some(({ value }) => value === route.query.state) ? String(route.query.state) : '')
const sort = ref(String(route.query.sort ?? ''))
const filter = computed(() => ({
  search: search.value.trim() || undefined,
  state: state.value || undefined,
  sort: sort.value || undefined,
}))
const {
  items: experiments,
  hasMore,
  problem,
  reload,
  loadMore,
} = usePaged((after) => api('listExperiments', { site: siteId, query: { ...filter.value, after } }))
watchDebounced(
  filter,
  async () => {
    await navigateTo({ query: { ...route.query, ...filter.value } }, { replace: true })
    await reload()
  },
  { debounce: 250 },
)
const isFiltered = computed(() => Boolean(filter.value.search ?? filter.value.state))
const isCreating = ref(false)
const mayEdit = computed(() => account.site(siteId)?.role !== 'viewer')

watch(
  () => 'new' in route.query && mayEdit.value,
  (wanted) => (isCreating.value = wanted),
  { immediate: true },
)
watch(isCreating, (open) => !open && 'new' in route.query && navigateTo({ query: {} }))
useShortcuts([{ keys: 'n', label: 'New experiment', run: () => (isCreating.value = true), isOn: () => mayEdit.value }])
const remove = useSheetDeletion(siteId, reload)
</script>

<template>
  <div class="max-w-6xl p-6 lg:p-8">
    <ExperimentsHead :site-id="siteId">
      <BaseButton v-if="mayEdit" kind="main" @click="isCreating = true">New experiment</BaseButton>
    </ExperimentsHead>
    <div v-if="isFiltered || experiments?.length" class="mb-4 flex flex-wrap items-end gap-3" role="search">
      <TextField v-model="search" class="w-64" label="Search" type="search" placeholder="a name or an address" />
      <ChoiceField v-model="state" class="w-36" label="State" :choices="STATES" />
    </div>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!experiments" />
    <EmptyNote v-else-if="experiments.length === 0 && isFiltered" text="No experiment matches. Change the search." />
    <EmptyNote
      v-else-if="experiments.length === 0"
      text="No experiments yet. Create the first: name the idea, change a text, and choose a metric."
    />
    <template v-else>
      <ExperimentTable
        v-model:sort="sort"
        :experiments="experiments"
        :site-id="siteId"
        :time-zone="account.site(siteId)?.timeZone ?? 'UTC'"
        :may-edit="mayEdit"
        @remove="remove"
      />
      <BaseButton v-if="hasMore" class="mt-4" @click="loadMore">Show more</BaseButton>
    </template>
    <NewExperimentDialog v-model:open="isCreating" :site-id="siteId" />
  </div>
</template>
