<script setup lang="ts">
import type { CollectionView } from '~~/shared/collection/replies'
import type { PageRule } from '~~/core/targeting/pageRule'
import { pageRulesInWords } from '~~/core/targeting/pageWords'

/** In plain words: what is collected, from whom, for how long. */
const props = defineProps<{ view: CollectionView }>()
const where = (pages: readonly PageRule[]) =>
  pages.some(({ match, value }) => match === 'begins' && value === '/')
    ? 'on all pages'
    : `on ${pageRulesInWords(pages)}`
const share = computed(() => props.view.behavior.share / 10_000)
const recorded = computed(() => props.view.recording.share / 10_000)
const whom = computed(() =>
  props.view.asksConsent
    ? 'visitors who have consented and whose browser does not send Global Privacy Control'
    : 'visitors whose browser does not send Global Privacy Control and who have not refused',
)
</script>

<template>
  <dl class="grid max-w-3xl gap-x-6 gap-y-3 sm:grid-cols-[10rem_1fr]">
    <dt class="font-medium">From whom</dt>
    <dd>Only from {{ whom }}. An id in a cookie tells visitors apart; names and addresses are not stored.</dd>
    <dt class="font-medium">Always</dt>
    <dd>
      Page views, clicks with the element they hit, sent forms, errors of the page, and events that it reports. Of one
      visitor in twenty, also whether the elements that running experiments change are on the page.
    </dd>
    <dt class="font-medium">Behavior</dt>
    <dd>
      <template v-if="share === 0">Not collected.</template>
      <template v-else
        >Of {{ formatShare(share) }} of them, {{ where(view.behavior.pages) }}. In the last seven days
        {{ formatCount(view.lately.behaving) }} of {{ formatCount(view.lately.visitors) }} visitors, with
        {{ formatCount(view.lately.events) }} events.</template
      >
    </dd>
    <dt class="font-medium">Session recordings</dt>
    <dd>
      <template v-if="recorded === 0">Not collected.</template>
      <template v-else
        >Of {{ formatShare(recorded) }} of them, {{ where(view.recording.pages) }}, without what inputs hold{{
          view.recording.masksText ? ' and without texts' : ''
        }}. In the last seven days {{ formatCount(view.lately.recordings) }}; all together
        {{ formatCount(Math.ceil(view.recordedBytes / 1e6)) }} MB.</template
      >
    </dd>
    <dt class="font-medium">Surveys</dt>
    <dd>
      <template v-if="view.surveys.length === 0">None is shown.</template>
      <template v-for="survey in view.surveys" :key="survey.id">
        “{{ survey.name }}”, to {{ formatShare(survey.share / 10_000) }} of them, {{ where(survey.pages) }}. </template
      ><template v-if="view.surveys.length > 0"
        >What they answer is kept with the rest. In the last seven days {{ formatCount(view.lately.asked) }} were
        asked.</template
      >
    </dd>
    <dt class="font-medium">For how long</dt>
    <dd>
      <ul class="list-disc pl-5">
        <li>Views, clicks, events, behavior and answers: {{ view.retentionDays }} days.</li>
        <li>
          Recordings: {{ view.recording.days }} days, and {{ formatCount(view.recording.megabytes) }} MB at most. The
          oldest are deleted first.
        </li>
        <li>
          Visits, with where they came from: {{ view.retentionDays }} days, and while an experiment runs that counts
          them.
        </li>
        <li>
          What a visitor adds to an experiment, under the id of their cookie: as long as the experiment, and 30 days
          more.
        </li>
        <li>Sums of experiments, which hold no ids: always.</li>
      </ul>
    </dd>
    <dt class="font-medium">Never</dt>
    <dd>What people type into pages, and network addresses: a place is looked up, and the address forgotten.</dd>
  </dl>
</template>
