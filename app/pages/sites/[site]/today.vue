<script setup lang="ts">
useHead({ title: 'Today · Vetch' })
const api = useApi()
const account = useAccountStore()
const route = useRoute('sites-site-today')
const siteId = Number(route.params.site)
const timeZone = computed(() => account.site(siteId)?.timeZone ?? 'UTC')
const { value: view, problem, reload } = useLoaded(() => api('readToday', { site: siteId }))
onNews((site, news) => void (site === siteId && news?.kind !== 'presence' && reload()))
</script>

<template>
  <div class="max-w-4xl p-6 lg:p-8">
    <PageHead title="Today" />
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!view" />
    <div v-else class="flex flex-col gap-9">
      <section aria-labelledby="needs">
        <div class="mb-2 flex items-baseline">
          <h2 id="needs">What needs you</h2>
          <NuxtLink class="ml-auto text-sm text-ink-soft hover:underline" :to="`/sites/${siteId}/alarms`"
            >Alarms</NuxtLink
          >
        </div>
        <NeedList v-if="view.needs.length > 0" :needs="view.needs" />
        <EmptyNote v-else text="Nothing needs you now.">
          <NuxtLink :to="`/sites/${siteId}/experiments?new`" class="font-medium text-accent underline"
            >Create an experiment</NuxtLink
          >
        </EmptyNote>
      </section>
      <section v-if="view.live.length > 0" aria-labelledby="live">
        <h2 id="live" class="mb-2">What runs</h2>
        <RunList :experiments="view.live" :site-id="siteId" :time-zone="timeZone" />
      </section>
      <WorthNow :site-id="siteId" />
      <section v-if="view.ended.length > 0" aria-labelledby="ended">
        <h2 id="ended" class="mb-2">
          What ended <span class="text-sm font-normal text-ink-soft">in the last four weeks</span>
        </h2>
        <RunList :experiments="view.ended" :site-id="siteId" :time-zone="timeZone" />
      </section>
      <section aria-labelledby="traffic">
        <h2 id="traffic" class="mb-3">Traffic</h2>
        <SiteTraffic :site-id="siteId" />
      </section>
    </div>
  </div>
</template>
