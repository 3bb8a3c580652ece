<script setup lang="ts">
useHead({ title: 'Webhooks · Vetch' })
const account = useAccountStore()
const route = useRoute('sites-site-setup-webhooks')
const siteId = Number(route.params.site)
const site = computed(() => account.site(siteId))
</script>

<template>
  <div class="max-w-4xl p-6 lg:p-8">
    <SetupHead :site-id="siteId" note="Programs that are told of what happens" />
    <WebhookSection v-if="site?.role === 'owner'" :site-id="siteId" :time-zone="site.timeZone" />
    <p v-else class="text-ink-soft">Owners decide which programs are told.</p>
  </div>
</template>
