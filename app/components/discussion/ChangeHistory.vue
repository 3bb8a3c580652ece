<script setup lang="ts">
import type { ChangeView } from '~~/shared/experiments/replies'
import type { Paged } from '~~/shared/api/paging'

/** Who changed what on one thing, the latest first; read anew with each version of it. */
const props = defineProps<{
  load: (after: number | undefined) => Promise<Paged<ChangeView>>
  version: number
  timeZone: string
}>()
const isOpen = ref(false)
const { items: changes, hasMore, problem, reload, loadMore } = usePaged((after) => props.load(after), true)
watch([isOpen, () => props.version], () => isOpen.value && void reload())
</script>

<template>
  <details class="border-t border-line pt-3" @toggle="isOpen = ($event.target as HTMLDetailsElement).open">
    <summary class="font-semibold">History</summary>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <ul class="mt-3 flex flex-col gap-2 text-sm">
      <li v-for="change in changes ?? []" :key="change.id" class="break-words">
        <span class="text-ink-soft">{{ formatTime(change.at, timeZone) }} · {{ change.person ?? 'Vetch' }} · </span
        >{{ change.words ?? change.action }}
      </li>
    </ul>
    <BaseButton v-if="hasMore" class="mt-2" kind="quiet" @click="loadMore">Show more</BaseButton>
  </details>
</template>
