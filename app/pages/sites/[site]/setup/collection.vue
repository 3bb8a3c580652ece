<script setup lang="ts">
useHead({ title: 'Collection · Vetch' })
const api = useApi()
const account = useAccountStore()
const route = useRoute('sites-site-setup-collection')
const siteId = Number(route.params.site)
const { value: view, problem, reload } = useLoaded(() => api('readCollection', { site: siteId }))
const { value: site } = useLoaded(() => api('readSite', { site: siteId }))
const { value: personKey } = useLoaded(async () =>
  account.site(siteId)?.role === 'owner' ? api('readPersonKey', { site: siteId }) : null,
)
const isOwner = computed(() => account.site(siteId)?.role === 'owner')
</script>

<template>
  <div class="max-w-4xl p-6 lg:p-8">
    <SetupHead :site-id="siteId" note="What Vetch learns about your visitors, and what it does not" />
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!view" />
    <div v-else class="flex flex-col gap-10">
      <section aria-labelledby="collected-now">
        <h2 id="collected-now" class="mb-3">What is collected now</h2>
        <CollectedNow :view="view" />
      </section>
      <section aria-labelledby="collection-choice">
        <h2 id="collection-choice" class="mb-3">What else to collect</h2>
        <CollectionForm :site-id="siteId" :view="view" :disabled="!isOwner" @changed="view = $event" />
      </section>
      <section v-if="isOwner" aria-labelledby="one-visitor">
        <h2 id="one-visitor" class="mb-3">One visitor</h2>
        <OneVisitor :site-id="siteId" />
      </section>
      <template v-if="isOwner && site && personKey">
        <section aria-labelledby="one-person">
          <h2 id="one-person" class="mb-3">One person on all devices</h2>
          <OnePerson :site-id="siteId" :site-key="site.key" :person-key="personKey.key" :time-zone="site.timeZone" />
        </section>
        <section aria-labelledby="person-key">
          <h2 id="person-key" class="mb-3">Proof of persons</h2>
          <PersonKey :site-id="siteId" :view="personKey" :time-zone="site.timeZone" @changed="personKey = $event" />
        </section>
      </template>
    </div>
  </div>
</template>
