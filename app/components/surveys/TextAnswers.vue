<script setup lang="ts">
import type { SurveyAnswersView } from '~~/shared/surveys/replies'
import { answerGroups, commonWords, wordsOf } from '~~/core/evidence/commonWords'
import { XMarkIcon } from '@heroicons/vue/20/solid'
import type { TableColumn } from '~/data/tableColumn'

/** What people wrote: searched, by the words that return and by the team’s tags. Each leads to its recording. */
type Text = SurveyAnswersView['questions'][number]['texts'][number]
const props = defineProps<{
  siteId: number
  texts: readonly Text[]
  written: number
  timeZone: string
  label: string
  /** Of all answers in these days, the most first. */
  tags: readonly { tag: string; count: number }[]
  mayEdit: boolean
}>()
const emit = defineEmits<{ tag: [answers: Text[], tag: string, isOn: boolean] }>()
const MOST_WORDS = 24
const MOST_GROUPS = 8
const search = ref('')
const word = ref<string | null>(null)
const tag = ref<string | null>(null)
const newTag = ref('')
const plain = computed(() => props.texts.map(({ text }) => text))
const words = computed(() => commonWords(plain.value, MOST_WORDS))
const groups = computed(() => answerGroups(plain.value, MOST_GROUPS))
const shown = computed(() => {
  const wanted = search.value.trim().toLowerCase()
  return props.texts.filter(
    ({ text, tags }) =>
      text.toLowerCase().includes(wanted) &&
      (word.value === null || wordsOf(text).includes(word.value)) &&
      (tag.value === null || tags.includes(tag.value)),
  )
})
/** Those in sight, so that a search or a word is tagged in one step. */
function tagShown(): void {
  const typed = newTag.value.trim().toLowerCase()
  if (typed === '') return
  emit('tag', shown.value, typed, true)
  newTag.value = ''
}
const choose = (chosen: string) => (word.value = word.value === chosen ? null : chosen)
const when = ({ at }: Text) => formatTime(new Date(at).toISOString(), props.timeZone)
const columns: TableColumn<Text>[] = [
  { id: 'text', header: 'Answer', value: ({ text }) => text, isHeading: true, isUnsorted: true },
  { id: 'tags', header: 'Tags', value: ({ tags }) => tags.join(', '), isUnsorted: true },
  { id: 'when', header: 'When', value: ({ at }) => at, show: when },
  { id: 'recording', header: 'Recording', value: ({ isRecorded }) => (isRecorded ? 'yes' : null) },
  { id: 'visitor', header: 'Visitor', value: ({ visitor }) => visitor, isExtra: true },
]
const recording = ({ visitor, session }: Text) => `/sites/${props.siteId}/evidence/recordings/${visitor}/${session}`
</script>

<template>
  <div class="flex flex-col gap-4">
    <div v-if="groups.groups.length > 0">
      <h4 class="mb-1 text-sm font-medium">Groups, by the word they share</h4>
      <ul class="flex flex-wrap gap-2">
        <li v-for="group in groups.groups" :key="group.word">
          <button
            type="button"
            class="rounded border px-2 py-0.5"
            :class="word === group.word ? 'border-accent text-accent' : 'border-line-strong hover:bg-neutral-soft'"
            :aria-pressed="word === group.word"
            @click="choose(group.word)"
          >
            {{ group.word }} <span class="text-ink-soft">{{ formatCount(group.answers.length) }}</span>
          </button>
        </li>
        <li v-if="groups.others.length > 0" class="py-0.5 text-ink-soft">
          others {{ formatCount(groups.others.length) }}
        </li>
      </ul>
    </div>
    <details v-if="words.length > 0">
      <summary class="text-sm font-medium">Common words</summary>
      <p class="mt-1 flex flex-wrap gap-x-3">
        <button
          v-for="each in words"
          :key="each.word"
          type="button"
          class="hover:underline"
          :class="{ 'font-semibold text-accent': word === each.word }"
          :aria-pressed="word === each.word"
          @click="choose(each.word)"
        >
          {{ each.word }} <span class="text-ink-soft">{{ formatCount(each.answers.length) }}</span>
        </button>
      </p>
    </details>
    <div v-if="tags.length > 0">
      <h4 class="mb-1 text-sm font-medium">Tags</h4>
      <ul class="flex flex-wrap gap-2">
        <li v-for="each in tags" :key="each.tag">
          <button
            type="button"
            class="rounded border px-2 py-0.5"
            :class="tag === each.tag ? 'border-accent text-accent' : 'border-line-strong hover:bg-neutral-soft'"
            :aria-pressed="tag === each.tag"
            @click="tag = tag === each.tag ? null : each.tag"
          >
            {{ each.tag }}
            <span class="text-ink-soft"
              >{{ formatCount(each.count) }}, {{ formatShare(each.count / Math.max(1, written), 0) }}</span
            >
          </button>
        </li>
      </ul>
    </div>
    <div class="flex flex-wrap items-end gap-3">
      <TextField v-model="search" class="w-64" label="Search the answers" type="search" />
      <BaseButton v-if="word" kind="quiet" @click="word = null">With “{{ word }}” only: show all</BaseButton>
      <p class="pb-2 text-sm text-ink-soft">
        {{ formatCount(shown.length) }} of {{ formatCount(written)
        }}<template v-if="written > texts.length"
          >, of which the latest {{ formatCount(texts.length) }} are here</template
        >
      </p>
    </div>
    <form v-if="mayEdit && shown.length > 0" class="flex flex-wrap items-end gap-2" @submit.prevent="tagShown">
      <TextField v-model="newTag" class="w-44" label="Tag" placeholder="dogs on board" />
      <BaseButton type="submit" :disabled="!String(newTag ?? '').trim()"
        >Tag {{ shown.length === 1 ? 'this answer' : `these ${formatCount(shown.length)} answers` }}</BaseButton
      >
    </form>
    <p v-if="shown.length === 0">No answer matches. Change the search.</p>
    <DataTable
      v-else
      :label="label"
      :columns="columns"
      :rows="shown"
      :row-key="({ visitor, session }) => `${visitor} ${session}`"
    >
      <template #cell-text="{ row }"
        ><span class="block max-w-[60ch] break-words whitespace-pre-wrap">{{ row.text }}</span></template
      >
      <template #cell-tags="{ row }">
        <span class="flex flex-wrap gap-1">
          <span
            v-for="each in row.tags"
            :key="each"
            class="flex items-center gap-1 rounded border border-line-strong py-0.5 pr-1 pl-2 text-sm"
            >{{ each
            }}<button
              v-if="mayEdit"
              type="button"
              class="rounded p-0.5 text-ink-soft hover:text-ink"
              :aria-label="`Remove the tag ${each}`"
              @click="emit('tag', [row], each, false)"
            >
              <XMarkIcon class="size-4" aria-hidden="true" /></button
          ></span>
        </span>
      </template>
      <template #cell-recording="{ row }"
        ><NuxtLink v-if="row.isRecorded" :to="recording(row)" class="text-accent underline">Watch</NuxtLink
        ><span v-else class="text-ink-soft">–</span></template
      >
    </DataTable>
  </div>
</template>
