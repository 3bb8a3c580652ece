<script setup lang="ts">
import { crowdName } from '~~/core/traffic/crowd'
import type { ExclusionView } from '~~/shared/experiments/replies'

/** Who is left out of the numbers by a decision of the team, and why. */
const props = defineProps<{ mayDecide: boolean }>()
const store = useSheetStore()
const api = useApi()
const notices = useNoticesStore()
const {
  items: exclusions,
  hasMore,
  problem,
  reload,
  loadMore,
} = usePaged((after) => api('listExclusions', { ...store.place, query: { after } }))
const isAdding = ref(false)
const draft = reactive({ kind: 'team' as ExclusionView['kind'], visitor: '', from: '', until: '', reason: '' })
const errors = ref<Record<string, string>>({})
const KINDS: { value: ExclusionView['kind']; label: string }[] = [
  { value: 'team', label: 'visitors from the team’s own networks' },
  { value: 'visitor', label: 'one visitor' },
  { value: 'span', label: 'everybody first seen in a span of time' },
]

function inWords({ kind, visitor, crowd, segment, from, until }: ExclusionView): string {
  if (kind === 'team') return 'Visitors from the team’s own networks'
  if (kind === 'visitor') return `Visitor ${visitor}`
  if (kind === 'crowd') return crowdName(crowd!)
  if (kind === 'segment') return `Visitors with ${segmentName(segment!.dimension).toLowerCase()} ${segment!.value}`
  return `Everybody first seen from ${formatTime(from!, store.sheet!.timeZone)} to ${formatTime(until!, store.sheet!.timeZone)}`
}
async function attempt(change: () => Promise<unknown>, text: string): Promise<void> {
  errors.value = {}
  try {
    await change()
    await reload()
    isAdding.value = false
    notices.show(text)
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    errors.value = error.fields
    notices.show(error.message, { tone: 'problem' })
  }
}
function add(): Promise<void> {
  const { kind, visitor, from, until, reason } = draft
  const moment = (text: string) => (text ? new Date(text).toISOString() : undefined)
  const body = {
    kind,
    reason,
    ...(kind === 'visitor' ? { visitor } : {}),
    ...(kind === 'span' ? { from: moment(from), until: moment(until) } : {}),
  }
  return attempt(() => api('addExclusion', { ...store.place, body }), 'Left out. The numbers follow in a moment.')
}
function remove(exclusion: ExclusionView): Promise<void> {
  return attempt(
    () => api('removeExclusion', { ...store.place, exclusion: exclusion.id }),
    'Counted again. The numbers follow in a moment.',
  )
}
</script>

<template>
  <section aria-labelledby="left-out" class="border-t border-line pt-3">
    <div class="flex items-center gap-3">
      <h2 id="left-out" class="text-base font-semibold">Left out of the numbers</h2>
      <BaseButton v-if="props.mayDecide && !isAdding" class="ml-auto" kind="quiet" @click="isAdding = true"
        >Leave out …</BaseButton
      >
    </div>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <p v-else-if="exclusions?.length === 0 && !isAdding" class="text-sm text-ink-soft">
      Nobody. Robots are always left out.
    </p>
    <ul class="text-sm">
      <li v-for="each in exclusions ?? []" :key="each.id" class="flex flex-wrap items-baseline gap-x-3 py-1.5">
        <span>{{ inWords(each) }}</span>
        <span class="text-ink-soft">“{{ each.reason }}”, {{ each.person ?? 'a program' }}</span>
        <BaseButton v-if="props.mayDecide" class="ml-auto" kind="quiet" @click="remove(each)">Count again</BaseButton>
      </li>
    </ul>
    <BaseButton v-if="hasMore" kind="quiet" @click="loadMore">Show more</BaseButton>
    <form v-if="isAdding" class="mt-2 grid max-w-2xl gap-4 sm:grid-cols-2" novalidate @submit.prevent="add">
      <ChoiceField v-model="draft.kind" label="Leave out" :choices="KINDS" />
      <TextField
        v-if="draft.kind === 'visitor'"
        v-model="draft.visitor"
        label="Visitor’s id"
        hint="The value of their cookie vetch_visitor."
        :error="errors.visitor"
      />
      <template v-if="draft.kind === 'span'">
        <TextField v-model="draft.from" label="From" type="datetime-local" :error="errors.from" />
        <TextField v-model="draft.until" label="Until" type="datetime-local" :error="errors.until" />
      </template>
      <TextField
        v-model="draft.reason"
        class="sm:col-span-2"
        label="Why"
        placeholder="A price test of ours ran by mistake"
        :error="errors.reason"
      />
      <div class="flex gap-2 sm:col-span-2">
        <BaseButton type="submit">Leave out</BaseButton
        ><BaseButton kind="quiet" @click="isAdding = false">Cancel</BaseButton>
      </div>
    </form>
  </section>
</template>
