<script setup lang="ts">
import type { ExperimentSummary } from '~~/shared/experiments/replies'
import { allSheets } from '~/data/allSheets'
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions, Dialog, DialogPanel } from '@headlessui/vue'

const props = defineProps<{ siteId: number }>()
const open = defineModel<boolean>('open', { required: true })
const api = useApi()
const account = useAccountStore()
const isDark = useDark()
const query = ref('')
const experiments = ref<ExperimentSummary[]>([])

interface Entry {
  label: string
  hint: string
  run: () => unknown
}

watch(open, async (isOpen) => {
  query.value = ''
  if (isOpen && props.siteId) experiments.value = await allSheets(api, props.siteId).catch(() => [])
})

const entries = computed<Entry[]>(() => {
  const site = `/sites/${props.siteId}`
  const places: Entry[] = props.siteId
    ? [
        { label: 'Today', hint: 'Place', run: () => navigateTo(`${site}/today`) },
        { label: 'What is new', hint: 'Place', run: () => navigateTo(`${site}/news`) },
        ...['pages', 'visitors', 'heatmap', 'recordings', 'funnels', 'forms', 'events'].map((view) => ({
          label: `Evidence: ${view}`,
          hint: 'Place',
          run: () => navigateTo(`${site}/evidence/${view}`),
        })),
        { label: 'Evidence: surveys', hint: 'Place', run: () => navigateTo(`${site}/evidence/surveys`) },
        { label: 'Evidence: findings', hint: 'Place', run: () => navigateTo(`${site}/evidence/findings`) },
        ...[
          ['Hypotheses: list', 'list'],
          ['Hypotheses: board', 'board'],
          ['Hypotheses: next quarter', 'quarter'],
        ].map(([label, view]) => ({
          label: label!,
          hint: 'Place',
          run: () => navigateTo(`${site}/hypotheses/${view}`),
        })),
        { label: 'Write a hypothesis', hint: 'Action', run: () => navigateTo(`${site}/hypotheses/new`) },
        { label: 'Experiments', hint: 'Place', run: () => navigateTo(`${site}/experiments`) },
        { label: 'Audiences', hint: 'Place', run: () => navigateTo(`${site}/experiments/audiences`) },
        { label: 'Shared traffic', hint: 'Place', run: () => navigateTo(`${site}/experiments/traffic`) },
        { label: 'Dry run', hint: 'Place', run: () => navigateTo(`${site}/experiments/dry-run`) },
        { label: 'Rollouts', hint: 'Place', run: () => navigateTo(`${site}/rollouts`) },
        { label: 'Setup: site and script line', hint: 'Place', run: () => navigateTo(`${site}/setup/site`) },
        { label: 'Setup: collection', hint: 'Place', run: () => navigateTo(`${site}/setup/collection`) },
        { label: 'Setup: people', hint: 'Place', run: () => navigateTo(`${site}/setup/people`) },
        { label: 'Setup: webhooks', hint: 'Place', run: () => navigateTo(`${site}/setup/webhooks`) },
        { label: 'New experiment', hint: 'Action', run: () => navigateTo(`${site}/experiments?new`) },
        {
          label: 'Export experiments as CSV',
          hint: 'Action',
          run: () => navigateTo(`/api${site}/experiments.csv`, { external: true }),
        },
      ]
    : []
  return [
    ...places,
    ...experiments.value.map((each) => ({
      label: each.name,
      hint: `Experiment, ${each.state}`,
      run: () => navigateTo(`${site}/experiments/${each.id}`),
    })),
    { label: 'Your account', hint: 'Place', run: () => navigateTo('/account') },
    ...(account.view?.sites ?? [])
      .filter((each) => each.id !== props.siteId)
      .map((each) => ({ label: each.name, hint: 'Site', run: () => navigateTo(`/sites/${each.id}/today`) })),
    {
      label: isDark.value ? 'Use light colors' : 'Use dark colors',
      hint: 'Action',
      run: () => (isDark.value = !isDark.value),
    },
    { label: 'Sign out', hint: 'Action', run: () => account.signOut() },
  ]
})
const MOST_SHOWN = 60
const things = useFoundThings(() => props.siteId, query)
const found = computed(() => {
  const words = query.value.toLowerCase().split(/\s+/).filter(Boolean)
  const named = entries.value.filter(({ label, hint }) =>
    words.every((word) => `${label} ${hint}`.toLowerCase().includes(word)),
  )
  const others = things.value.map(({ label, hint, to }) => ({
    label,
    hint,
    run: () => navigateTo(`/sites/${props.siteId}/${to}`),
  }))
  return [...named, ...others].slice(0, MOST_SHOWN)
})
function choose(entry: Entry | null): void {
  open.value = false
  entry?.run()
}
</script>

<template>
  <Dialog :open="open" class="relative z-40" @close="open = false">
    <div class="fixed inset-0 bg-ink/25" aria-hidden="true" />
    <div class="fixed inset-x-0 top-[12vh] mx-auto max-w-xl px-4">
      <DialogPanel class="rounded border border-line-strong bg-raised">
        <Combobox :model-value="null" @update:model-value="choose">
          <ComboboxInput
            class="w-full bg-transparent px-4 py-3 outline-none"
            placeholder="Go to, or do …"
            aria-label="Go to, or do"
            @change="query = $event.target.value"
          />
          <ComboboxOptions static class="max-h-80 overflow-y-auto border-t border-line py-1">
            <ComboboxOption
              v-for="(entry, index) in found"
              :key="`${index} ${entry.label} ${entry.hint}`"
              v-slot="{ active }"
              :value="entry"
              as="template"
            >
              <li class="flex cursor-pointer justify-between gap-4 px-4 py-1.5" :class="{ 'bg-accent-soft': active }">
                <span class="truncate">{{ entry.label }}</span><span class="shrink-0 text-sm text-ink-soft">{{
                  entry.hint
                }}</span>
              </li>
            </ComboboxOption>
            <li v-if="found.length === 0" class="px-4 py-2 text-ink-soft">No results.</li>
          </ComboboxOptions>
        </Combobox>
      </DialogPanel>
    </div>
  </Dialog>
</template>
