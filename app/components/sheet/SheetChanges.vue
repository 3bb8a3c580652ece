<script setup lang="ts">
import type { ChangeView } from '~~/shared/experiment'

const store = useSheetStore()
const api = useApi()
const isOpen = ref(false)
const {
  items: changes,
  hasMore,
  problem,
  reload,
  loadMore,
} = usePaged((after) => api('readChanges', { ...store.place, query: { after } }), true)
const NAMES: Record<string, string> = {
  name: 'name',
  hypothesis: 'hypothesis',
  pageRules: 'page',
  share: 'traffic share',
  variants: 'variants',
  metrics: 'metrics',
  plan: 'plan',
  state: 'state',
}

watch([isOpen, () => store.sheet?.version], () => {
  if (isOpen.value) void reload()
})
const changed = (change: ChangeView) =>
  Object.keys(change.after ?? {})
    .map((key) => NAMES[key] ?? key)
    .join(', ')
</script>

<template>
  <details id="changes" class="border-t border-line pt-3" @toggle="isOpen = ($event.target as HTMLDetailsElement).open">
    <summary class="font-semibold">Change log</summary>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <ul class="mt-3 flex flex-col gap-2 text-sm">
      <li v-for="change in changes ?? []" :key="change.id">
        <details>
          <summary>
            {{ formatTime(change.at, store.sheet?.timeZone ?? 'UTC') }} · {{ change.person ?? 'Vetch' }}
            {{ change.action }}<template v-if="change.action === 'changed'">: {{ changed(change) }}</template>
          </summary>
          <div class="my-1 grid gap-3 sm:grid-cols-2">
            <pre class="overflow-x-auto bg-neutral-soft p-2 font-mono text-xs">{{
              change.before ? JSON.stringify(change.before, null, 2) : 'nothing before'
            }}</pre>
            <pre class="overflow-x-auto bg-neutral-soft p-2 font-mono text-xs">{{
              change.after ? JSON.stringify(change.after, null, 2) : 'nothing after'
            }}</pre>
          </div>
        </details>
      </li>
    </ul>
    <BaseButton v-if="hasMore" class="mt-2" kind="quiet" @click="loadMore">Show more</BaseButton>
  </details>
</template>
