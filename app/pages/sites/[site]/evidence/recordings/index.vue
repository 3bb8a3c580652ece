<script setup lang="ts">
import { HAPPENINGS, type Happening } from '~~/shared/recordings/recording'

useHead({ title: 'Recordings · Vetch' })
const route = useRoute('sites-site-evidence-recordings')
const siteId = Number(route.params.site)
const { api, filter, daysBack, set, choices, timeZone } = useEvidence(siteId)
const { happened, seconds, clicked, left, forgetLeft, asked, turn, last } = useRecordingSearch()
const typed = ref(clicked.value)
watchDebounced(typed, (text) => (clicked.value = text), { debounce: 300 })
const { value, problem, isLoading, reload } = useLoaded(() =>
  api('listRecordings', { site: siteId, query: { ...filter.value, ...asked.value } }),
)
watch([filter, asked], reload)
const DEFINITION =
  'Recorded sessions that began in these days and in which all of that happened. Who left a funnel is told by the statement of the funnel.'
const WORDS: Record<Happening, string> = {
  rage: 'rage click',
  dead: 'dead click',
  error: 'error',
  submit: 'sent a form',
  custom: 'event of the page',
  amount: 'amount shown',
  field: 'was in a form',
  'left-form': 'left a form',
  answer: 'answered a survey',
}
const DURATIONS = [
  { value: '0', label: 'any time' },
  { value: '10', label: 'at least 10 s' },
  { value: '30', label: 'at least 30 s' },
  { value: '60', label: 'at least 1 min' },
  { value: '300', label: 'at least 5 min' },
]
const duration = computed({ get: () => String(seconds.value), set: (text) => last(Number(text)) })
</script>

<template>
  <div class="p-6 lg:p-8">
    <EvidenceHead :site-id="siteId" note="Sessions as they were, to be watched again" />
    <div class="mb-5">
      <FilterBar
        :filter="filter"
        :days-back="daysBack"
        :choices="choices"
        :count-of-more="happened.length + (typed ? 1 : 0) + (seconds > 0 ? 1 : 0)"
        @change="set"
      >
        <template #more>
          <fieldset class="flex flex-col gap-1">
            <legend class="mb-1 text-sm font-medium">Contains</legend>
            <div class="grid grid-cols-2 gap-x-4 gap-y-1">
              <label v-for="each in HAPPENINGS" :key="each" class="flex items-center gap-1.5">
                <input type="checkbox" class="accent-accent" :checked="happened.includes(each)" @change="turn(each)" />
                {{ WORDS[each] }}
              </label>
            </div>
          </fieldset>
          <TextField v-model="typed" label="Clicked on" placeholder="Book this crossing" type="search" />
          <ChoiceField v-model="duration" label="Length" :choices="DURATIONS" />
        </template>
      </FilterBar>
    </div>
    <p v-if="left" class="mb-4">
      Only of those who left after “{{ left.name }}”.
      <BaseButton kind="quiet" @click="forgetLeft">Show all</BaseButton>
    </p>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!value" />
    <EmptyNote
      v-else-if="value.searched === 0"
      text="No recordings in these days. Choose more days, or turn recording on."
    >
      <NuxtLink :to="`/sites/${siteId}/setup/collection`" class="font-medium text-accent underline"
        >See what is collected</NuxtLink
      >
    </EmptyNote>
    <EmptyNote
      v-else-if="value.recordings.length === 0"
      :text="`None of the ${formatCount(value.searched)} recordings of these days matches. Remove a filter.`"
    />
    <div v-else :class="{ 'opacity-60': isLoading }" :aria-busy="isLoading">
      <p class="mb-1 flex flex-wrap items-baseline justify-between gap-x-4">
        <span
          >{{ formatCount(value.recordings.length) }} of {{ formatCount(value.searched) }} recordings<template
            v-if="value.hasMore"
            >; there are more: choose fewer days to see the earlier ones</template
          >.</span
        >
        <ReportActions
          :site-id="siteId"
          report="recordings"
          :question="{ ...filter, ...asked }"
          :definition="DEFINITION"
        />
      </p>
      <StripLegend class="mb-2" />
      <RecordingTable :site-id="siteId" :recordings="value.recordings" :time-zone="timeZone" />
    </div>
  </div>
</template>
