<script setup lang="ts">
import type { ServedView } from '~~/shared/rollouts/replies'

/** In which order browsers apply what is served: where two change one element, the later one is seen. */
const props = defineProps<{ siteId: number; mayEdit: boolean }>()
const api = useApi()
const notices = useNoticesStore()
const { value: served, problem, reload } = useLoaded(() => api('listServed', { site: props.siteId }))
const { isSaving, save } = useSaving()
const list = useTemplateRef<HTMLOListElement>('list')
const send = async (order: number[]) => {
  served.value = await api('orderServed', { site: props.siteId, body: { order } })
}
async function move(place: number): Promise<void> {
  const before = served.value!.map(({ id }) => id)
  const after = [...before]
  after.splice(place - 1, 2, before[place]!, before[place - 1]!)
  const isDone = await save(() => send(after))
  if (!isDone) return reload()
  notices.show('Changed the order.', { undo: async () => void (await save(() => send(before))) })
  await nextTick()
  // The key that has moved it moves it on.
  list.value?.querySelectorAll<HTMLElement>('li')[place - 1]?.querySelector('button')?.focus()
}
const pathOf = ({ kind, id }: ServedView) =>
  `/sites/${props.siteId}/${kind === 'rollout' ? 'rollouts' : 'experiments'}/${id}`
</script>

<template>
  <section v-if="problem || (served && served.length > 1)" aria-labelledby="order-title">
    <h2 id="order-title">Order on a page</h2>
    <p class="mb-2 max-w-[72ch] text-ink-soft">
      Browsers apply these one after the other. Where two change one element, the later one is seen.
    </p>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <ol v-else ref="list" class="border-t border-line">
      <li
        v-for="(thing, place) in served"
        :key="thing.id"
        class="flex flex-wrap items-baseline gap-x-3 border-b border-line py-2"
      >
        <span class="w-6 text-right text-ink-soft tabular-nums">{{ place + 1 }}</span>
        <NuxtLink :to="pathOf(thing)" class="text-accent hover:underline">{{ thing.name }}</NuxtLink>
        <span class="mr-auto text-sm text-ink-soft">{{ thing.pages }}</span>
        <BaseButton
          v-if="mayEdit && place > 0"
          kind="quiet"
          :aria-label="`Move up ${thing.name}`"
          :disabled="isSaving"
          @click="move(place)"
          >Move up</BaseButton
        >
      </li>
    </ol>
  </section>
</template>
