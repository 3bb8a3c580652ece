<script setup lang="ts">
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import { BUCKETS } from '~~/core/assignment/assignment'

/** Where the experiment is shown beside the site itself, be it a draft. */
const props = defineProps<{ sheet: ExperimentSheet; mayEdit: boolean }>()
const api = useApi()
const { save } = useSaving()
const { value: environments } = useLoaded(() => api('listEnvironments', { site: props.sheet.siteId }))
const SHARES = [0, 500, 2000, 5000, BUCKETS]
const shareIn = (shown: { experiment: number; share: number }[]) =>
  shown.find(({ experiment }) => experiment === props.sheet.id)?.share ?? 0
const choicesOf = (share: number) =>
  [...new Set([...SHARES, share])]
    .sort((a, b) => a - b)
    .map((each) => ({
      value: String(each),
      label: each === 0 ? 'to nobody' : `to ${formatShare(each / BUCKETS, 0)}`,
    }))
const show = (environment: number, share: string) =>
  save(async () => {
    const body = { environment, share: Number(share) }
    environments.value = await api('showInEnvironment', {
      site: props.sheet.siteId,
      experiment: props.sheet.id,
      body,
    })
  })
</script>

<template>
  <section v-if="environments?.length" aria-label="Environments" class="flex flex-col gap-2 text-sm">
    <div v-for="each in environments" :key="each.id">
      <ChoiceField
        v-if="mayEdit"
        :model-value="String(shareIn(each.shown))"
        :label="`Shown on ${each.name}`"
        :choices="choicesOf(shareIn(each.shown))"
        @update:model-value="show(each.id, $event)"
      />
      <p v-else>
        Shown on {{ each.name }} {{ choicesOf(0).find(({ value }) => value === String(shareIn(each.shown)))?.label }}.
      </p>
    </div>
  </section>
</template>
