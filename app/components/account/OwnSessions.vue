<script setup lang="ts">
/** Where one is signed in oneself, and a way to end it. */
const api = useApi()
const notices = useNoticesStore()
const localTimeZone = Intl.DateTimeFormat().resolvedOptions().timeZone
const {
  items: sessions,
  hasMore,
  problem,
  reload,
  loadMore,
} = usePaged((after) => api('listSessions', { query: { after } }))
defineExpose({ reload })

async function end(id: number, device: string): Promise<void> {
  await api('endSession', { session: id })
  notices.show(`Signed out ${device}.`)
  await reload()
}
</script>

<template>
  <div>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!sessions" />
    <ul v-else>
      <li
        v-for="session in sessions"
        :key="session.id"
        class="flex flex-wrap items-baseline gap-x-4 border-b border-line py-2"
      >
        <span class="font-medium">{{ session.device }}</span>
        <span class="text-sm text-ink-soft"
          >signed in {{ formatTime(session.createdAt, localTimeZone) }}, last used
          {{ formatTime(session.usedAt, localTimeZone) }}</span
        >
        <span v-if="session.isOwn" class="ml-auto text-sm text-ink-soft">here</span>
        <BaseButton
          v-else
          class="ml-auto"
          kind="quiet"
          :aria-label="`Sign out ${session.device}`"
          @click="end(session.id, session.device)"
          >Sign out</BaseButton
        >
      </li>
    </ul>
    <BaseButton v-if="hasMore" kind="quiet" class="mt-3" @click="loadMore">Show more</BaseButton>
  </div>
</template>
