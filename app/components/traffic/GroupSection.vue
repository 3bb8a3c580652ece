<script setup lang="ts">
import type { ExclusionGroupView } from '~~/shared/traffic/replies'

/** Groups of experiments that exclude each other, with a new one. */
const props = defineProps<{ siteId: number; mayEdit: boolean }>()
const api = useApi()
const notices = useNoticesStore()
const { value: groups, problem, reload } = useLoaded(() => api('listGroups', { site: props.siteId }))
const { errors, isSaving, save } = useSaving()
const isAdding = ref(false)
const draft = reactive<{ name: string; kind: 'parts' | 'turns' }>({ name: '', kind: 'parts' })
const KINDS = [
  { value: 'parts' as const, label: 'each has a part of the visitors' },
  { value: 'turns' as const, label: 'they take turns: first come, first served' },
]
const add = () =>
  save(async () => {
    groups.value = await api('createGroup', { site: props.siteId, body: { ...draft } })
    isAdding.value = false
    draft.name = ''
  })
const remove = (group: ExclusionGroupView) =>
  save(async () => {
    groups.value = await api('deleteGroup', { site: props.siteId, group: group.id })
    notices.show(`Deleted ${group.name}.`, {
      undo: async () => {
        const body = { name: group.name, kind: group.kind }
        groups.value = await api('createGroup', { site: props.siteId, body })
      },
    })
  })
</script>

<template>
  <section aria-labelledby="groups">
    <div class="mb-1 flex flex-wrap items-baseline gap-3">
      <h2 id="groups" class="mr-auto">Groups that exclude each other</h2>
      <BaseButton v-if="mayEdit && !isAdding" @click="isAdding = true">New group</BaseButton>
    </div>
    <p class="mb-3 max-w-[72ch] text-ink-soft">
      A visitor takes part in one experiment of a group at most. Others share their visitors by chance, which adds noise
      and no bias.
    </p>
    <form v-if="isAdding" class="mb-4 flex flex-wrap items-end gap-3" novalidate @submit.prevent="add">
      <TextField v-model="draft.name" class="w-64" label="Name" placeholder="Booking pages" :error="errors.name" />
      <ChoiceField v-model="draft.kind" class="w-72" label="Its experiments" :choices="KINDS" />
      <BaseButton kind="main" type="submit" :disabled="isSaving">Add it</BaseButton>
      <BaseButton kind="quiet" @click="isAdding = false">Cancel</BaseButton>
    </form>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!groups" />
    <EmptyNote
      v-else-if="groups.length === 0 && !isAdding"
      text="No groups yet. Two experiments that change the same thing belong in one."
    />
    <GroupCard
      v-for="group in groups ?? []"
      :key="group.id"
      :site-id="siteId"
      :group="group"
      :may-edit="mayEdit"
      @remove="remove(group)"
    />
  </section>
</template>
