<script setup lang="ts">
useHead({ title: 'Shared traffic · Vetch' })
const account = useAccountStore()
const route = useRoute('sites-site-experiments-traffic')
const siteId = Number(route.params.site)
const site = computed(() => account.site(siteId))
</script>

<template>
  <div class="flex max-w-5xl flex-col gap-7 p-6 lg:p-8">
    <ExperimentsHead :site-id="siteId" note="Who has which part of the visitors" />
    <GroupSection :site-id="siteId" :may-edit="site?.role !== 'viewer'" />
    <HoldoutSection :site-id="siteId" :time-zone="site?.timeZone ?? 'UTC'" :is-owner="site?.role === 'owner'" />
  </div>
</template>
