<script setup lang="ts">
import type { SiteView } from '~~/shared/sites/replies'

useHead({ title: 'Setup · Vetch' })
const api = useApi()
const account = useAccountStore()
const route = useRoute('sites-site-setup-site')
const siteId = Number(route.params.site)
const { value: site, problem, reload } = useLoaded(() => api('readSite', { site: siteId }))
const role = computed(() => account.site(siteId)?.role)

async function changed(next: SiteView): Promise<void> {
  site.value = next
  await account.reload()
}
// The first report comes from a visitor, not from this screen, so it is asked for while it is missing.
useIntervalFn(() => {
  if (site.value && !site.value.firstReportAt) void reload()
}, 3000)
</script>

<template>
  <div class="max-w-4xl p-6 lg:p-8">
    <SetupHead :site-id="siteId" :note="site?.address" />
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!site" />
    <div v-else class="flex flex-col gap-10">
      <ScriptLine :site="site" />
      <InstallWays :site="site" />
      <InstallationCheck :site="site" :may-check="role !== 'viewer'" />
      <SetAsideSection v-if="role === 'owner'" :site-id="siteId" :time-zone="site.timeZone" />
      <SiteSettings :site="site" :disabled="role !== 'owner'" @changed="changed" />
      <EnvironmentSection :site-id="siteId" :is-owner="role === 'owner'" @changed="account.reload" />
      <TokenSection v-if="role === 'owner'" :site-id="siteId" :time-zone="site.timeZone" />
    </div>
  </div>
</template>
