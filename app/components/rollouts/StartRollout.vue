<script setup lang="ts">
import type { ExperimentState } from '~~/shared/experiments/experiment'
import type { ExperimentSheet } from '~~/shared/experiments/replies'

/** Serves what an experiment keeps, or says where it is served already. */
const props = defineProps<{ sheet: ExperimentSheet; mayEdit: boolean }>()
const api = useApi()
const notices = useNoticesStore()
const site = useSheetStore().place.site
const position = computed(() => props.sheet.variants.findIndex(({ id }) => id === props.sheet.decision?.variant))
const { value: rollouts, reload } = useLoaded(async () =>
  position.value > 0 ? await api('listRollouts', { site }) : [],
)
/** Where some are held back, what was kept is served by a sheet of its own. */
const { value: served, reload: reloadServed } = useLoaded(async () => {
  const { items } = await api('listExperiments', { site, query: { purpose: 'serve' } })
  return items.find(({ servedFrom, state }) => servedFrom === props.sheet.id && SERVED_WORDS[state]) ?? null
})
watch(() => props.sheet.version, reload)
watch(() => props.sheet.version, reloadServed)
const own = computed(() => rollouts.value?.find(({ experiment }) => experiment === props.sheet.id) ?? null)
const SERVED_WORDS: Partial<Record<ExperimentState, string>> = {
  running: 'Served, with some held back',
  paused: 'Serving it is paused',
}
const isOpen = ref(false)
const reach = reactive<{ share: number | string; isForEverybody: boolean }>({ share: 10_000, isForEverybody: false })
const { errors, isSaving, save } = useSaving()
const start = () =>
  save(async () => {
    const body = { ...reach, share: reach.share as number }
    const made = await api('startRollout', { site, experiment: props.sheet.id, body })
    isOpen.value = false
    const undo = async () => {
      const stopped = { version: made.version, isOn: false }
      await api('changeRollout', { site, rollout: made.id, body: stopped })
    }
    notices.show(`${made.variant.name} is served from now on.`, { undo })
  })
</script>

<template>
  <p v-if="own" class="mt-1">
    <NuxtLink :to="`/sites/${site}/rollouts/${own.id}`" class="text-accent hover:underline">{{
      own.isOn ? `Rolled out to ${formatPercent(own.share / 10_000)}` : 'Its rollout is stopped'
    }}</NuxtLink>
  </p>
  <p v-else-if="served" class="mt-1">
    <NuxtLink :to="`/sites/${site}/experiments/${served.id}`" class="text-accent hover:underline">{{
      SERVED_WORDS[served.state]
    }}</NuxtLink>
  </p>
  <template v-else-if="rollouts && position > 0 && mayEdit">
    <BaseButton class="mt-2" @click="isOpen = true">Roll it out …</BaseButton>
    <PlainDialog v-model:open="isOpen" :title="`Roll out ${sheet.variants[position]!.name}?`">
      <form id="start-rollout" novalidate @submit.prevent="start">
        <p class="mb-4">Vetch keeps making these changes on the same pages. Stop it once the site itself is changed.</p>
        <RolloutReach
          v-model:share="reach.share"
          v-model:is-for-everybody="reach.isForEverybody"
          :has-audience="sheet.audience !== null"
          :errors="errors"
        />
      </form>
      <template #actions>
        <BaseButton kind="quiet" @click="isOpen = false">Cancel</BaseButton>
        <BaseButton kind="main" type="submit" form="start-rollout" :disabled="isSaving">Roll out</BaseButton>
      </template>
    </PlainDialog>
  </template>
</template>
