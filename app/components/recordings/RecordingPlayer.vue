<script setup lang="ts">
import type { RecordedEvents, RecordingView } from '~~/shared/recordings/replies'
import type { eventWithTime } from '@rrweb/types'
import { recordedStyleSheets } from '~/data/recordedStyleSheets'
import { SPEEDS } from '~/composables/useReplay'
import { clockTime, durationInWords } from '~/data/durations'
import { MARK_WORDS } from '~/data/visitMarks'

/** Plays a recording, with a timeline of what happened in it. */
const props = defineProps<{
  siteId: number
  visitor: string
  visit: string
  recording: RecordingView
  /** Where playing begins, in ms. */
  start: number
}>()
const moment = defineModel<number>('moment', { required: true })
const api = useApi()
/** As the recorder numbers its events. */
const FULL_SNAPSHOT = 2
const LONGEST_OPENING = 5000
const frame = useTemplateRef<{ stage: HTMLElement | null }>('frame')
const stage = computed(() => frame.value?.stage ?? null)
const recorded = shallowRef<{ events: object[]; styleSheets: ReadonlyMap<string, string> } | null>(null)
/** Style sheets of other hosts that there is no copy of. */
const missing = ref(0)
const loaded = ref(0)
const { problem, reload } = useLoaded(async () => {
  const all: object[] = []
  for (let after: number | null = 0; after !== null;) {
    const stretch: RecordedEvents = await api('readRecordedEvents', {
      site: props.siteId,
      visitor: props.visitor,
      visit: props.visit,
      query: { after },
    })
    all.push(...stretch.events)
    loaded.value = all.length
    after = stretch.next
  }
  const found = await recordedStyleSheets(all as eventWithTime[], readStyleSheet)
  missing.value = found.missing
  recorded.value = { events: all, styleSheets: found.sheets }
})
/** A recording is played without a copy that does not come. */
const readStyleSheet = (address: string, at: number) =>
  api('readStyleSheet', { site: props.siteId, query: { address, at: Math.round(at) } }).catch((error: unknown) => {
    if (error instanceof ApiProblem) return null
    throw error
  })

const {
  now,
  length,
  isPlaying,
  speed,
  skipsIdle,
  size,
  problem: playProblem,
  play,
  pause,
  seek,
} = useReplay(stage, recorded)
seek(props.start)
watch(now, (at) => (moment.value = Math.round(at)))
const turn = () => (isPlaying.value ? pause() : play())
const back = () => seek(now.value - 5000)
const forth = () => seek(now.value + 5000)
/** Marks lie at the moments of the visit, which began before or after the recording. */
const lead = computed(() => props.recording.strip.began - props.recording.began)
/** When each page was there to be seen: a moment after it was opened. */
const snapshots = computed(() =>
  ((recorded.value?.events ?? []) as { type: number; timestamp: number }[])
    .filter(({ type }) => type === FULL_SNAPSHOT)
    .map(({ timestamp }) => timestamp - props.recording.began + 1),
)
const shownAt = (at: number) => snapshots.value.find((each) => each >= at && each < at + LONGEST_OPENING) ?? at
const strip = computed(() => {
  const { strip: own } = props.recording
  const shifted = <Each extends { at: number }>(list: readonly Each[]) =>
    list.map((each) => ({ ...each, at: each.at + lead.value })).filter(({ at }) => at >= 0)
  const whole = Math.max(length.value, props.recording.length)
  return {
    ...own,
    length: whole,
    pages: own.pages.map(({ at, page }) => ({ at: shownAt(at + lead.value), page })).filter(({ at }) => at >= 0),
    marks: shifted(own.marks),
  }
})
/** Pages of the visit that were opened before the recording began. */
const openedBefore = computed(() =>
  props.recording.strip.pages
    .map(({ at, page }) => ({ at: at + lead.value, page }))
    .filter(({ at }) => at < 0 && shownAt(at) < 0),
)
const speedChoice = computed({ get: () => String(speed.value), set: (value) => (speed.value = Number(value)) })
const speeds = SPEEDS.map((value) => ({ value: String(value), label: `${value}×` }))
/** What happened up to now, the latest first. */
const told = computed(() =>
  [
    ...openedBefore.value.map(({ at, page }) => ({ at, words: `opened ${page}, which was not recorded` })),
    ...strip.value.pages.map(({ at, page }) => ({ at, words: `opened ${page}` })),
    ...strip.value.marks.map(({ at, kind, words }) => ({
      at,
      words: words ? `${MARK_WORDS[kind]}: ${words}` : MARK_WORDS[kind],
    })),
  ].sort((a, b) => a.at - b.at),
)
defineExpose({ turn, back, forth, seek })
</script>

<template>
  <div class="flex flex-col gap-3">
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <p v-else-if="playProblem" role="alert" class="border-l-4 border-rust py-1 pl-3">{{ playProblem }}</p>
    <p v-else-if="!recorded" class="text-ink-soft" role="status">Loading … {{ formatCount(loaded) }} steps</p>
    <p v-if="missing > 0" class="text-sm text-ink-soft" role="note">
      {{
        missing === 1 ? 'A style sheet of another host is' : `${formatCount(missing)} style sheets of other hosts are`
      }}
      missing. The page may look different.
    </p>
    <ReplayFrame ref="frame" :size="size" />
    <div class="relative">
      <VisitStrip :strip="strip" :now="now" />
      <input
        type="range"
        class="absolute inset-0 size-full cursor-pointer opacity-0"
        min="0"
        :max="Math.round(length)"
        step="100"
        aria-label="Moment of the recording"
        :aria-valuetext="`${clockTime(now, length)} of ${clockTime(length, length)}`"
        :value="Math.round(now)"
        @input="seek(Number(($event.target as HTMLInputElement).value))"
      />
    </div>
    <StripLegend />
    <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
      <BaseButton kind="main" :disabled="!recorded" @click="turn">{{ isPlaying ? 'Pause' : 'Play' }}</BaseButton>
      <span class="w-28">{{ clockTime(now, length) }} of {{ clockTime(length, length) }}</span>
      <ButtonRow v-model="speedChoice" label="Speed" :choices="speeds" />
      <label class="flex items-center gap-2"
        ><input v-model="skipsIdle" type="checkbox" class="accent-accent" /> Skip pauses</label
      >
    </div>
    <section aria-labelledby="what-happened">
      <h2 id="what-happened" class="mb-1">What happened</h2>
      <ol class="max-h-64 overflow-y-auto" tabindex="0" aria-label="What happened">
        <li v-for="(each, index) in told" :key="index" class="border-b border-line">
          <button
            type="button"
            class="flex w-full gap-3 px-1 py-1 text-left hover:bg-neutral-soft"
            :class="{ 'text-ink-soft': each.at > now }"
            @click="seek(Math.max(0, each.at))"
          >
            <span class="w-14 shrink-0 text-right">{{ each.at < 0 ? 'before' : clockTime(each.at, length) }}</span>
            <span class="min-w-0 break-words">{{ each.words }}</span>
          </button>
        </li>
      </ol>
      <p class="mt-1 text-sm text-ink-soft">The visit lasted {{ durationInWords(recording.strip.length) }}.</p>
    </section>
  </div>
</template>
