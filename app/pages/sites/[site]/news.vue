<script setup lang="ts">
useHead({ title: 'What is new · Vetch' })
const route = useRoute('sites-site-news')
const siteId = Number(route.params.site)
const account = useAccountStore()
const timeZone = computed(() => account.site(siteId)?.timeZone ?? 'UTC')
const api = useApi()
const VIEWS = [
  { value: 'all', label: 'All' },
  { value: 'new', label: 'New' },
] as const
const view = useQueryChoice<'all' | 'new'>('view', () => VIEWS.map(({ value }) => value))
const {
  items: notifications,
  hasMore,
  problem,
  reload,
  loadMore,
} = usePaged((after) =>
  api('listNotifications', { site: siteId, query: { after, unseen: String(view.value === 'new') } }),
)
watch(view, reload)
onNews((site, news) => void (site === siteId && news?.kind === 'notifications' && reload()))
const latest = computed(() => notifications.value?.[0])
const hasNew = computed(() => notifications.value?.some(({ isSeen }) => !isSeen) ?? false)
async function markSeen(): Promise<void> {
  await api('markSeen', { site: siteId, body: { upTo: latest.value!.id } })
  await reload()
}
</script>

<template>
  <div class="max-w-4xl p-6 lg:p-8">
    <PageHead title="What is new" note="What you are told of this site">
      <NuxtLink class="text-sm font-medium text-accent underline" to="/account#told">Choose what you are told</NuxtLink>
    </PageHead>
    <div class="flex flex-col gap-4">
      <div class="flex flex-wrap items-center gap-3">
        <ButtonRow v-model="view" label="Which notifications" :choices="VIEWS" />
        <BaseButton v-if="hasNew" kind="quiet" @click="markSeen">Mark all as seen</BaseButton>
      </div>
      <ProblemNote v-if="problem" :text="problem" @retry="reload" />
      <LoadingNote v-else-if="!notifications" />
      <EmptyNote
        v-else-if="notifications.length === 0"
        :text="view === 'new' ? 'Nothing is new. You have seen it all.' : 'Nothing has happened yet.'"
      />
      <ul v-else class="border-t border-line">
        <NotificationRow
          v-for="notification in notifications"
          :key="notification.id"
          :notification="notification"
          :site-id="siteId"
          :time-zone="timeZone"
        />
      </ul>
      <BaseButton v-if="hasMore" kind="quiet" class="self-start" @click="loadMore">Show more</BaseButton>
    </div>
  </div>
</template>
