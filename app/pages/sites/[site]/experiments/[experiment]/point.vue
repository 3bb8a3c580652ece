<script setup lang="ts">
import type { Edit } from '~~/core/edits/edit'
import type { PointedElement } from '~~/shared/pointing'
import { drawThingId } from '~~/shared/thingId'

const route = useRoute('sites-site-experiments-experiment-point')
const store = useSheetStore()
const api = useApi()
const siteId = Number(route.params.site)
const sheetPath = `/sites/${siteId}/experiments/${route.params.experiment}`
const position = Number(route.query.variant ?? 1)
const { problem, reload } = useLoaded(() => store.open(siteId, Number(route.params.experiment)))
const variant = computed(() => store.sheet?.variants[position] ?? null)
const edits = computed<Edit[]>(() => variant.value?.edits ?? [])
/** A page that the rules name, or else the most visited one that they match. */
const firstPage = ref<string | null>(null)
watch(
  () => store.sheet?.id,
  async (id) => {
    if (!id) return
    const rules = store.sheet!.pageRules
    const named = rules.find(({ match }) => match === 'exact')?.value
    const report = named ? null : await api('readPreflight', store.place).catch(() => null)
    const beginning = rules.find(({ match }) => match === 'begins')?.value
    firstPage.value = named ?? report?.pages[0] ?? beginning ?? '/'
  },
  { immediate: true },
)
const selected = ref<PointedElement | null>(null)
useHead({ title: 'Point at the page · Vetch' })
useEventListener('keydown', (event: KeyboardEvent) => {
  // A dialog above takes the key for itself.
  if (event.key === 'Escape' && !document.querySelector('[role="dialog"]')) void navigateTo(sheetPath)
})
const openPage = (path: string) =>
  api('openPointing', { site: siteId, experiment: Number(route.params.experiment), body: { path } })
const list = computed(() => ({ part: 'edits' as const, variant: variant.value!.id }))

function remove(edit: Edit): void {
  useSheetChanges().make({ do: 'remove', list: list.value, item: edit }, 'Removed the edit.')
}
/** A second text for the same element takes the place of the first; the original stays that of the page. */
function setText(selector: string, original: string, value: string): void {
  const { make } = useSheetChanges()
  const before = edits.value.find((edit) => edit.selector === selector)
  if (!before) {
    if (value === original) return
    const item = { id: drawThingId(), kind: 'text', selector, original, value } as const
    make({ do: 'add', list: list.value, item, before: null })
  } else if (before.original === value) remove(before)
  else make({ do: 'set', of: { ...list.value, id: before.id }, from: { value: before.value }, to: { value } })
}
</script>

<template>
  <div class="flex h-[calc(100dvh-3.6rem)] flex-col md:h-dvh">
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!store.sheet" class="p-6" />
    <div v-else-if="!variant || position === 0 || store.sheet.state !== 'draft'" class="p-6">
      <p class="mb-3">
        {{
          store.sheet.state === 'draft' ? 'This variant does not exist.' : 'The variants are frozen since the start.'
        }}
      </p>
      <NuxtLink :to="sheetPath" class="text-accent underline">Back to the sheet</NuxtLink>
    </div>
    <template v-else>
      <header class="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-line px-5 py-2.5">
        <NuxtLink :to="sheetPath" class="text-accent underline">{{ store.sheet.name }}</NuxtLink>
        <span class="flex items-center gap-2 font-semibold"
          ><VariantMark :position="position" />{{ variant.name }}</span
        >
        <SaveState class="text-sm text-ink-soft" />
        <UndoRedo class="ml-auto" />
        <BaseButton kind="main" @click="navigateTo(sheetPath)">Back to the sheet</BaseButton>
      </header>
      <div
        class="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)] grid-rows-[minmax(0,1fr)_auto] lg:grid-cols-[minmax(0,1fr)_18rem] lg:grid-rows-1"
      >
        <LoadingNote v-if="firstPage === null" class="p-5" />
        <PointingFrame
          v-else
          :open-page="openPage"
          :first-page="firstPage"
          :edits="edits"
          :selected="selected?.selector ?? null"
          @pointed="selected = $event"
          @escape="selected = null"
          @opened="selected = null"
        />
        <EditPanel :edits="edits" :selected="selected" @set-text="setText" @remove="remove" @select="selected = null" />
      </div>
    </template>
  </div>
</template>
