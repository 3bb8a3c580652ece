<script setup lang="ts">
import type { Edit } from '~~/core/edits/edit'
import type { PointedElement } from '~~/shared/pointing'

const route = useRoute('sites-site-experiments-experiment-point')
const store = useSheetStore()
const notices = useNoticesStore()
const siteId = Number(route.params.site)
const sheetPath = `/sites/${siteId}/experiments/${route.params.experiment}`
const position = Number(route.query.variant ?? 1)
const { problem, reload } = useLoaded(() => store.open(siteId, Number(route.params.experiment)))
const variant = computed(() => store.sheet?.variants[position] ?? null)
const edits = computed<Edit[]>(() => variant.value?.edits ?? [])
const firstPage = computed(() => store.sheet?.pageRules.find((rule) => rule.match !== 'contains')?.value ?? '/')
const selected = ref<PointedElement | null>(null)
/** Ways back, the latest last. */
const history = ref<(() => Promise<void>)[]>([])
useHead({ title: 'Point at the page · Vetch' })
useShortcuts([{ keys: 'u', label: 'Undo the last edit', run: () => void undo() }])
useEventListener('keydown', (event: KeyboardEvent) => {
  if (event.key === 'Escape') void navigateTo(sheetPath)
})

async function attempt(change: () => Promise<void>): Promise<boolean> {
  try {
    await change()
    return true
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
    return false
  }
}
async function change(edit: Edit, before: Edit | null): Promise<void> {
  const { id } = variant.value!
  const isChanged = await attempt(() => store.putEdit(id, edit))
  const back = () => (before ? store.putEdit(id, before) : store.removeEdit(id, edit.id))
  if (isChanged) history.value = [...history.value, back]
}
async function remove(edit: Edit): Promise<void> {
  const { id } = variant.value!
  if (await attempt(() => store.removeEdit(id, edit.id)))
    history.value = [...history.value, () => store.putEdit(id, edit)]
}
async function undo(): Promise<void> {
  const back = history.value.at(-1)
  if (back && (await attempt(back))) history.value = history.value.slice(0, -1)
}
/** A second text for the same element takes the place of the first; the original stays that of the page. */
async function setText(selector: string, original: string, value: string): Promise<void> {
  const before = edits.value.find((edit) => edit.selector === selector) ?? null
  const first = before?.original ?? original
  if (before && value === first) return remove(before)
  if (value !== first)
    await change({ id: before?.id ?? newEditId(), kind: 'text', selector, original: first, value }, before)
}
function newEditId(): string {
  return [...crypto.getRandomValues(new Uint8Array(12))].map((byte) => byte.toString(36).padStart(2, '0')).join('')
}
</script>

<template>
  <div class="flex h-dvh flex-col">
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <p v-else-if="!store.sheet" class="p-6 text-ink-soft">Loading …</p>
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
        <span class="text-sm text-ink-soft">{{ store.isSaving ? 'Saving …' : 'Saved' }}</span>
        <BaseButton class="ml-auto" :disabled="history.length === 0" @click="undo">Undo</BaseButton>
        <BaseButton kind="main" @click="navigateTo(sheetPath)">Back to the sheet</BaseButton>
      </header>
      <div class="grid min-h-0 flex-1 lg:grid-cols-[minmax(0,1fr)_18rem]">
        <PointingFrame
          :site-id="siteId"
          :experiment-id="store.sheet.id"
          :first-page="firstPage"
          :edits="edits"
          :selected="selected?.selector ?? null"
          @pointed="selected = $event"
          @escape="selected = null"
        />
        <EditPanel :edits="edits" :selected="selected" @set-text="setText" @remove="remove" @select="selected = null" />
      </div>
    </template>
  </div>
</template>
