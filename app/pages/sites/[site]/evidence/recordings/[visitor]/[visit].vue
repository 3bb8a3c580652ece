<script setup lang="ts">
import { clockTime } from '~/data/durations'

const route = useRoute('sites-site-evidence-recordings-visitor-visit')
const siteId = Number(route.params.site)
const [visitor, visit] = [String(route.params.visitor), String(route.params.visit)]
const place = { site: siteId, visitor, visit }
useHead({ title: 'Recording · Vetch' })
const account = useAccountStore()
const notices = useNoticesStore()
const { api, filter, timeZone } = useEvidence(siteId)
const { asked } = useRecordingSearch()
const mayEdit = computed(() => account.site(siteId)?.role !== 'viewer')
const { value: recording, problem, reload } = useLoaded(() => api('readRecording', place))
const { value: list } = useLoaded(() =>
  api('listRecordings', { site: siteId, query: { ...filter.value, ...asked.value } }),
)
const start = Math.max(0, Number(route.query.t) * 1000 || 0)
const moment = ref(0)
const isAsking = ref(false)
const player = useTemplateRef<{
  turn: () => void
  back: () => void
  forth: () => void
  seek: (moment: number) => void
}>('player')
const index = computed(
  () => list.value?.recordings.findIndex((each) => each.visitor === visitor && each.session === visit) ?? -1,
)
const { t: _, ...kept } = route.query
const linkTo = (offset: number) => {
  const other = index.value < 0 ? undefined : list.value?.recordings[index.value + offset]
  return other && { path: `/sites/${siteId}/evidence/recordings/${other.visitor}/${other.session}`, query: kept }
}
const go = (offset: number) => {
  const link = linkTo(offset)
  if (link) void navigateTo(link)
}
useShortcuts([
  { keys: 'p', label: 'Play or pause the recording', run: () => player.value?.turn() },
  { keys: ',', label: 'Five seconds back', run: () => player.value?.back() },
  { keys: '.', label: 'Five seconds forward', run: () => player.value?.forth() },
  { keys: 'n', label: 'Next recording', run: () => go(1), isOn: () => !!linkTo(1) },
  { keys: 'b', label: 'Previous recording', run: () => go(-1), isOn: () => !!linkTo(-1) },
])
async function copyMoment(): Promise<void> {
  const url = new URL(window.location.href)
  url.searchParams.set('t', (moment.value / 1000).toFixed(1))
  try {
    await navigator.clipboard.writeText(url.href)
    notices.show(`The link to ${clockTime(moment.value)} is copied.`)
  } catch {
    notices.show(`The browser does not let Vetch copy. The link is ${url.href}`, { tone: 'problem' })
  }
}
async function remove(): Promise<void> {
  isAsking.value = false
  await api('deleteRecording', place)
  notices.show('Deleted the recording.')
  await navigateTo({ path: `/sites/${siteId}/evidence/recordings`, query: kept })
}
/** The page that was open at the moment that is shown. */
const pageNow = computed(() => {
  const pages = recording.value?.strip.pages ?? []
  return (pages.findLast(({ at }) => at <= moment.value) ?? pages[0])?.page ?? null
})
const title = computed(() => {
  const { strip } = recording.value!
  const told = [strip.device, strip.browser, strip.country, strip.source, strip.visits].filter(Boolean)
  return `${formatTime(new Date(strip.began).toISOString(), timeZone.value)}: ${told.join(', ')}`
})
</script>

<template>
  <div class="p-6 lg:p-8">
    <nav class="mb-2 flex flex-wrap items-center gap-x-5 text-sm" aria-label="Recordings">
      <NuxtLink :to="{ path: `/sites/${siteId}/evidence/recordings`, query: kept }" class="text-accent hover:underline"
        >All recordings</NuxtLink
      >
      <NuxtLink v-if="linkTo(-1)" :to="linkTo(-1)!" class="text-accent hover:underline">Before</NuxtLink>
      <NuxtLink v-if="linkTo(1)" :to="linkTo(1)!" class="text-accent hover:underline">Next</NuxtLink>
    </nav>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!recording" />
    <template v-else>
      <PageHead :title="title">
        <KeepFinding
          :site-id="siteId"
          report="recording"
          :question="{}"
          :page="pageNow"
          :place="`recordings/${visitor}/${visit}?t=${(moment / 1000).toFixed(1)}`"
        />
        <BaseButton kind="quiet" @click="copyMoment">Copy link to this moment</BaseButton>
        <BaseButton v-if="mayEdit" kind="quiet" @click="isAsking = true">Delete …</BaseButton>
      </PageHead>
      <PlainDialog v-model:open="isAsking" title="Delete this recording?">
        <p>Its notes are deleted, too. This cannot be undone. Reports still count the visit.</p>
        <template #actions>
          <BaseButton kind="quiet" @click="isAsking = false">Cancel</BaseButton>
          <BaseButton kind="main" @click="remove">Delete</BaseButton>
        </template>
      </PlainDialog>
      <div class="grid gap-8 lg:grid-cols-[minmax(0,1fr)_18rem]">
        <RecordingPlayer
          ref="player"
          v-model:moment="moment"
          :site-id="siteId"
          :visitor="visitor"
          :visit="visit"
          :recording="recording"
          :start="start"
        />
        <NoteList
          :place="place"
          :notes="recording.notes"
          :moment="moment"
          :may-edit="mayEdit"
          @seek="player?.seek($event)"
          @changed="reload"
        />
      </div>
    </template>
  </div>
</template>
