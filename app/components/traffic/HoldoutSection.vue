<script setup lang="ts">
import type { HoldoutView } from '~~/shared/traffic/replies'
import { BUCKETS } from '~~/core/assignment/assignment'
import type { TableColumn } from '~/data/tableColumn'

/** Shares of the visitors who get nothing of what is started in a period. */
const props = defineProps<{ siteId: number; timeZone: string; isOwner: boolean }>()
const api = useApi()
const { value: holdouts, problem, reload } = useLoaded(() => api('listHoldouts', { site: props.siteId }))
const { errors, isSaving, save } = useSaving()
const isAdding = ref(false)
const draft = reactive<{ name: string; share: number | string | null; until: string }>({
  name: '',
  share: 0.05,
  until: '',
})
const add = () =>
  save(async () => {
    const share = typeof draft.share === 'number' ? Math.round(draft.share * BUCKETS) : draft.share
    holdouts.value = await api('createHoldout', { site: props.siteId, body: { ...draft, share: share as number } })
    isAdding.value = false
  })
const end = (holdout: HoldoutView) =>
  save(async () => {
    holdouts.value = await api('endHoldout', { site: props.siteId, holdout: holdout.id })
  })
function stateOf({ isOpen, closedAt }: HoldoutView): string {
  return closedAt ? 'closed' : isOpen ? 'open' : 'ended'
}
const columns: TableColumn<HoldoutView>[] = [
  { id: 'name', header: 'Holdout', value: ({ name }) => name, isHeading: true },
  {
    id: 'share',
    header: 'Visitors',
    isNumeric: true,
    value: ({ share }) => share / BUCKETS,
    show: ({ share }) => formatShare(share / BUCKETS, 1),
  },
  { id: 'from', header: 'From', value: (row) => row.startsAt, show: (row) => formatDate(row.startsAt, props.timeZone) },
  { id: 'until', header: 'To', value: (row) => row.endsAt, show: (row) => formatDate(row.endsAt, props.timeZone) },
  {
    id: 'experiments',
    header: 'Kept out of',
    value: (row) => row.experiments.length,
    show: (row) => row.experiments.map(({ name }) => name).join(', ') || 'nothing yet',
  },
  { id: 'open', header: 'State', value: stateOf },
]
</script>

<template>
  <section aria-labelledby="holdouts">
    <div class="mb-1 flex flex-wrap items-baseline gap-3">
      <h2 id="holdouts" class="mr-auto">Holdouts</h2>
      <BaseButton v-if="isOwner && !isAdding" @click="isAdding = true">New holdout</BaseButton>
    </div>
    <p class="mb-3 max-w-[72ch] text-ink-soft">
      A share of the visitors who get nothing of what is started in a period: against them the sum of all changes can be
      read. The share is fixed once it has begun.
    </p>
    <form v-if="isAdding" class="mb-4 flex flex-wrap items-start gap-3" novalidate @submit.prevent="add">
      <TextField v-model="draft.name" class="w-64" label="Name" placeholder="Autumn" :error="errors.name" />
      <PercentField v-model="draft.share" class="w-32" label="Visitors kept out" :error="errors.share" />
      <TextField v-model="draft.until" class="w-44" label="Until the day" type="date" :error="errors.until" />
      <span class="flex gap-2 pt-6">
        <BaseButton kind="main" type="submit" :disabled="isSaving">Begin now</BaseButton>
        <BaseButton kind="quiet" @click="isAdding = false">Cancel</BaseButton>
      </span>
    </form>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!holdouts" />
    <EmptyNote v-else-if="holdouts.length === 0 && !isAdding" text="No holdouts yet. An owner begins one." />
    <DataTable
      v-else-if="holdouts.length > 0"
      label="Holdouts"
      :columns="columns"
      :rows="holdouts"
      :row-key="({ id }) => id"
    >
      <template #cell-name="{ row }"
        ><NuxtLink :to="`/sites/${siteId}/experiments/holdouts/${row.id}`" class="hover:underline">{{
          row.name
        }}</NuxtLink></template
      >
      <template #cell-open="{ row }">
        {{ stateOf(row) }}
        <AskFirst
          v-if="row.isOpen && isOwner"
          label="End the holdout"
          :aria-label="`End ${row.name}`"
          :title="`End ${row.name}?`"
          text="What starts from now on is for everybody. What started before stays kept from its visitors, so that it can be read on."
          @confirm="end(row)"
        />
      </template>
    </DataTable>
  </section>
</template>
