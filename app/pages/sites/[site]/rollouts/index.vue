<script setup lang="ts">
useHead({ title: 'Rollouts · Vetch' })
const route = useRoute('sites-site-rollouts')
const siteId = Number(route.params.site)
const account = useAccountStore()
const timeZone = computed(() => account.site(siteId)?.timeZone ?? 'UTC')
const api = useApi()
const { value: rollouts, problem, reload } = useLoaded(() => api('listRollouts', { site: siteId }))
</script>

<template>
  <div class="max-w-5xl p-6 lg:p-8">
    <PageHead title="Rollouts" note="What Vetch serves until the site itself is changed" />
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!rollouts" />
    <EmptyNote
      v-else-if="rollouts.length === 0"
      text="Nothing is rolled out. Where an ended experiment keeps a change, its sheet offers to roll it out."
    />
    <RolloutTable v-else :site-id="siteId" :rollouts="rollouts" :time-zone="timeZone" />
  </div>
</template>
