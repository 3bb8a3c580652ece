<script setup lang="ts">
/** What is served to some without a test before it, and how to begin with one. */
const props = defineProps<{ siteId: number; timeZone: string; mayEdit: boolean }>()
const api = useApi()
const {
  items: personalizations,
  hasMore,
  problem,
  reload,
  loadMore,
} = usePaged((after) => api('listExperiments', { site: props.siteId, query: { purpose: 'serve', after } }))
const remove = useSheetDeletion(props.siteId, reload)
</script>

<template>
  <section aria-labelledby="personalizations-title">
    <h2 id="personalizations-title">Personalizations</h2>
    <p class="mb-2 text-ink-soft">
      Changes for an audience. A share of it is held back, so that their effect is known.
    </p>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!personalizations" />
    <EmptyNote
      v-else-if="personalizations.length === 0"
      text="Nothing is served to some only. Make a new personalization, or draft one from a variant on its sheet."
    />
    <template v-else>
      <PersonalizationTable
        :site-id="siteId"
        :personalizations="personalizations"
        :time-zone="timeZone"
        :may-edit="mayEdit"
        @remove="remove"
      />
      <BaseButton v-if="hasMore" class="mt-4" @click="loadMore">Show more</BaseButton>
    </template>
  </section>
</template>
