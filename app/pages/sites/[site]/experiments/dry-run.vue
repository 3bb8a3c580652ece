<script setup lang="ts">
useHead({ title: 'Dry run · Vetch' })
const account = useAccountStore()
const route = useRoute('sites-site-experiments-dry-run')
const siteId = Number(route.params.site)
const WHOM = [
  { value: 'persona' as const, label: 'One made-up visitor' },
  { value: 'past' as const, label: 'The visitors of the last week' },
  { value: 'panel' as const, label: 'On the live page' },
]
/** A link from a sheet names its experiment. */
const whom = useQueryChoice('whom', () =>
  'experiment' in route.query ? ['past', 'persona', 'panel'] : ['persona', 'past', 'panel'],
)
</script>

<template>
  <div class="max-w-6xl p-6 lg:p-8">
    <ExperimentsHead :site-id="siteId" note="What the rules would do, before anybody sees it" />
    <ButtonRow v-model="whom" class="mb-6" label="Whom to ask for" :choices="WHOM" />
    <PersonaRun v-if="whom === 'persona'" :site-id="siteId" :may-edit="account.site(siteId)?.role !== 'viewer'" />
    <PastRun v-else-if="whom === 'past'" :site-id="siteId" />
    <PanelLinkForm v-else :site-id="siteId" />
  </div>
</template>
