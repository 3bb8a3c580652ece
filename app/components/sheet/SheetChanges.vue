<script setup lang="ts">
import type { ChangeView } from '~~/shared/experiments/replies'

const store = useSheetStore()
const api = useApi()
const isOpen = ref(false)
const {
  items: changes,
  hasMore,
  problem,
  reload,
  loadMore,
} = usePaged((after) => api('readChanges', { ...store.place, query: { after } }), true)
const props = defineProps<{ mayRestore: boolean }>()
const notices = useNoticesStore()

watch([isOpen, () => store.sheet?.version], () => {
  if (isOpen.value) void reload()
})
const told = ({ words, action }: ChangeView) => (words ? words : action)
async function restore(change: ChangeView): Promise<void> {
  try {
    store.work!.take(await api('restoreState', { ...store.place, change: change.id }))
    notices.show(`Restored what stood after ${formatTime(change.at, store.sheet!.timeZone)}.`)
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
  }
}
</script>

<template>
  <details id="changes" class="border-t border-line pt-3" @toggle="isOpen = ($event.target as HTMLDetailsElement).open">
    <summary class="font-semibold">Change log</summary>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <ul class="mt-3 flex flex-col gap-2 text-sm">
      <li v-for="(change, index) in changes ?? []" :key="change.id" class="flex items-baseline gap-3">
        <p class="min-w-0 flex-1 break-words">
          <span class="text-ink-soft"
            >{{ formatTime(change.at, store.sheet?.timeZone ?? 'UTC') }} · {{ change.person ?? 'Vetch' }} ·
          </span>
          {{ told(change) }}
        </p>
        <button
          v-if="props.mayRestore && index > 0 && (change.mayRestore || change.action === 'created')"
          type="button"
          class="text-accent underline"
          :aria-label="`Restore what stood after: ${told(change)}`"
          @click="restore(change)"
        >
          Restore
        </button>
      </li>
    </ul>
    <BaseButton v-if="hasMore" class="mt-2" kind="quiet" @click="loadMore">Show more</BaseButton>
  </details>
</template>
