<script setup lang="ts">
useHead({ title: 'Rollouts · Vetch' })
const route = useRoute('sites-site-rollouts')
const siteId = Number(route.params.site)
const account = useAccountStore()
const timeZone = computed(() => account.site(siteId)?.timeZone ?? 'UTC')
const mayEdit = computed(() => account.site(siteId)?.role !== 'viewer')
const api = useApi()
const { value: rollouts, problem, reload } = useLoaded(() => api('listRollouts', { site: siteId }))
const isCreating = ref(false)
useShortcuts([
  { keys: 'n', label: 'New personalization', run: () => (isCreating.value = true), isOn: () => mayEdit.value },
])
</script>

<template>
  <div class="flex max-w-5xl flex-col gap-8 p-6 lg:p-8">
    <header class="flex flex-wrap items-start gap-3">
      <PageHead class="mr-auto" title="Rollouts" note="What Vetch serves until the site itself is changed" />
      <BaseButton v-if="mayEdit" kind="main" @click="isCreating = true">New personalization</BaseButton>
    </header>
    <PersonalizationSection :site-id="siteId" :time-zone="timeZone" :may-edit="mayEdit" />
    <section aria-labelledby="winners-title">
      <h2 id="winners-title">Winners that are rolled out</h2>
      <p class="mb-2 text-ink-soft">What ended experiments kept.</p>
      <ProblemNote v-if="problem" :text="problem" @retry="reload" />
      <LoadingNote v-else-if="!rollouts" />
      <EmptyNote
        v-else-if="rollouts.length === 0"
        text="Nothing is rolled out. Where an ended experiment keeps a change, its sheet offers to roll it out."
      />
      <RolloutTable v-else :site-id="siteId" :rollouts="rollouts" :time-zone="timeZone" />
    </section>
    <ServedOrder :site-id="siteId" :may-edit="mayEdit" />
    <NewExperimentDialog v-model:open="isCreating" :site-id="siteId" purpose="serve" />
  </div>
</template>
