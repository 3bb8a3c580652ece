<script setup lang="ts">
useHead({ title: 'Alarms · Vetch' })
const route = useRoute('sites-site-alarms')
const siteId = Number(route.params.site)
const account = useAccountStore()
const timeZone = computed(() => account.site(siteId)?.timeZone ?? 'UTC')
const mayEdit = computed(() => account.site(siteId)?.role !== 'viewer')
const api = useApi()
const { value: alarms, problem, reload } = useLoaded(() => api('readAlarms', { site: siteId, query: {} }))
onNews((site, news) => void (site === siteId && news?.kind === 'alarms' && reload()))
const VIEWS = [
  { value: 'open', label: 'Open' },
  { value: 'all', label: 'Last 90 days' },
] as const
const view = useQueryChoice<'open' | 'all'>('view', () => VIEWS.map(({ value }) => value))
const shown = computed(() => (alarms.value ?? []).filter(({ closedAt }) => view.value === 'all' || closedAt === null))
</script>

<template>
  <div class="max-w-4xl p-6 lg:p-8">
    <PageHead title="Alarms" note="What the watch finds wrong, on the site, in what runs and in what is served" />
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!alarms" />
    <div v-else class="flex flex-col gap-4">
      <ButtonRow v-model="view" label="Which alarms" :choices="VIEWS" />
      <EmptyNote v-if="shown.length === 0" :text="view === 'open' ? 'Nothing is wrong now.' : 'Nothing was wrong.'" />
      <AlarmList v-else :alarms="shown" :site-id="siteId" :time-zone="timeZone" :may-edit="mayEdit" @changed="reload" />
    </div>
  </div>
</template>
