<script setup lang="ts">
import { editableThings } from '~/edits/editableThings'
import { firstPageOf } from '~/edits/firstPage'
import { PAGE_WIDTHS, type PageWidth } from '~/edits/pageWidths'
import { limitedToWidths } from '~/edits/windowWidths'
import type { Edit, EditContent, EditMarks } from '~~/core/edits/content'
import { areSameWidths, isWithin, type Widths } from '~~/core/edits/widths'
import type { EditOutcome, FromPage, PointedElement, Step, ToPage } from '~~/shared/edits/pointing'

const route = useRoute('sites-site-experiments-experiment-point')
const store = useSheetStore()
const api = useApi()
const siteId = Number(route.params.site)
const sheetPath = `/sites/${siteId}/experiments/${route.params.experiment}`
/** A variant by its position, or a level of a multivariate test by its id. */
const position = Number(route.query.variant ?? 1)
const levelId = typeof route.query.level === 'string' ? route.query.level : null
const { problem, reload } = useLoaded(() => store.open(siteId, Number(route.params.experiment)))
const editable = computed(() => editableThings(store.sheet))
const variant = computed(
  () => editable.value.find(({ id }) => id === (levelId ?? store.sheet?.variants[position]?.id)) ?? null,
)
const edits = computed<Edit[]>(() => variant.value?.edits ?? [])
const others = computed(() => editable.value.filter(({ id }) => id !== variant.value?.id))
/** The address asked for, else a page that the rules name, or else the most visited one that they match. */
const firstPage = ref<string | null>(typeof route.query.page === 'string' ? route.query.page : null)
watch(
  () => store.sheet?.id,
  async (id) => {
    if (!id || firstPage.value) return
    firstPage.value = await firstPageOf(store.sheet!, async () => (await api('readPreflight', store.place)).pages)
  },
  { immediate: true },
)
/** Visitors have the page with what is served there: so it is pointed at. */
const { value: served } = useLoaded(() =>
  api('listServedBeside', { site: siteId, experiment: Number(route.params.experiment) }),
)
/** Origin of the page that is open. */
const siteAddress = ref('https://site.invalid')
async function openPage(path: string) {
  const body = { path }
  const session = await api('openPointing', { site: siteId, experiment: Number(route.params.experiment), body })
  siteAddress.value = new URL(session.address).origin
  return session
}
const upload = async (file: File) =>
  (await api('uploadPicture', { site: siteId, query: { name: file.name.slice(0, 120) }, file })).address
const present = usePresence(() =>
  variant.value ? { site: siteId, experiment: store.sheet!.id, variant: variant.value.id } : null,
)
useHead({ title: 'Point at the page · Vetch' })

/** For which widths of the window edits are made; null for all. */
const widths = ref<Widths | null>(null)
/** A page for desktops cannot be pointed at on a phone. */
const frameWidth = ref<PageWidth>(window.innerWidth < 640 ? '390' : '1280')
const usedWidths = computed(() => edits.value.flatMap((edit) => edit.widths ?? []))
const editsOfWidths = computed(() => edits.value.filter((edit) => areSameWidths(edit.widths, widths.value)))
watch(widths, (chosen) => {
  // What is made is to be seen.
  const fitting = PAGE_WIDTHS.find(({ value }) => chosen && isWithin(chosen, Number(value)))
  if (fitting && !isWithin(chosen!, Number(frameWidth.value))) frameWidth.value = fitting.value
})
const isUnseen = computed(() => !!widths.value && !isWithin(widths.value, Number(frameWidth.value)))
const selected = shallowRef<PointedElement[]>([])
const outcomes = shallowRef<EditOutcome[]>([])
const pagePath = ref('/')
/** What is being typed, shown on the page before it is kept. */
const typed = shallowRef<(EditContent & EditMarks)[]>([])
const shown = computed(() => [
  ...edits.value,
  ...typed.value.map((content, place) => ({ ...content, id: `typed-${place}` }) as Edit),
])
const frame = useTemplateRef<{ send: (message: ToPage) => void }>('frame')
const code = useTemplateRef<Record<'beginRule' | 'beginScript', (selector: string) => void>>('code')
const isCodeOpen = ref(false)
const codeTab = ref<'css' | 'script'>('css')
const variantEdits = () => useVariantEdits(() => variant.value!)

const limited = (contents: readonly EditContent[]) => limitedToWidths(contents, widths.value)
function commit(contents: readonly (EditContent & EditMarks)[]): void {
  typed.value = []
  variantEdits().commit(contents)
}
function select(refs: number[]): void {
  // Nothing is chosen at once, before the page has answered: the next Escape leaves.
  if (refs.length === 0) selected.value = []
  frame.value?.send({ vetch: 'select', refs })
}
function showEdit(edit: Edit): void {
  if ('selector' in edit) frame.value?.send({ vetch: 'show', selector: edit.selector, clues: edit.clues ?? null })
}
function opened(path: string): void {
  pagePath.value = path
  selected.value = []
}
function press(key: Extract<FromPage, { vetch: 'pressed' }>['key']): void {
  if (key === 'escape') return select([])
  if (key === 'delete')
    return commit(limited(selected.value.map(({ selector, clues }) => ({ kind: 'remove', selector, clues }))))
  const refusal = store.work?.step(key)
  if (refusal) useNoticesStore().show(refusal, { tone: 'problem' })
}
useEventListener('keydown', (event: KeyboardEvent) => {
  const step = { ArrowUp: 'earlier', ArrowDown: 'later' }[event.key] as Step | undefined
  if (event.altKey && step && selected.value.length === 1) {
    event.preventDefault()
    return frame.value?.send({ vetch: 'step', step })
  }
  // A dialog or a menu above takes the key for itself.
  if (event.key !== 'Escape' || document.querySelector('[role="dialog"], [role="menu"]')) return
  if (selected.value.length > 0) select([])
  else void navigateTo(sheetPath)
})
</script>

<template>
  <div class="flex h-[calc(100dvh-6rem)] flex-col md:h-dvh">
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!store.sheet" class="p-6" />
    <div v-else-if="!variant || store.sheet.state !== 'draft'" class="p-6">
      <p class="mb-3">
        {{
          store.sheet.state === 'draft'
            ? 'There is no such variant or level.'
            : 'The variants are frozen since the start.'
        }}
      </p>
      <NuxtLink :to="sheetPath" class="text-accent underline">Back to the sheet</NuxtLink>
    </div>
    <template v-else>
      <header class="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-line px-5 py-2.5">
        <NuxtLink :to="sheetPath" class="text-accent underline">{{ store.sheet.name }}</NuxtLink>
        <span class="flex items-center gap-2 font-semibold"
          ><VariantMark v-if="!levelId" :position="position" />{{ variant.name }}</span
        >
        <SaveState class="text-sm text-ink-soft" />
        <p v-if="present.length > 0" class="text-sm text-rust" role="status">
          {{ present.join(' and ') }} {{ present.length === 1 ? 'is' : 'are' }} changing this
          {{ levelId ? 'level' : 'variant' }} too.
        </p>
        <UndoRedo class="ml-auto" />
        <BaseButton kind="main" @click="navigateTo(sheetPath)">Back to the sheet</BaseButton>
      </header>
      <div
        class="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)] grid-rows-[minmax(0,1fr)_auto] lg:grid-cols-[minmax(0,1fr)_21rem] lg:grid-rows-1"
      >
        <LoadingNote v-if="firstPage === null" class="p-5" />
        <div v-else class="flex min-h-0 flex-col">
          <PointingFrame
            ref="frame"
            v-model:width="frameWidth"
            :served="served ?? []"
            class="flex-1"
            :open-page="openPage"
            :first-page="firstPage"
            :edits="shown"
            @pointed="selected = $event"
            @made="commit(limited($event))"
            @outcomes="outcomes = $event"
            @pressed="press"
            @opened="opened"
          />
          <VariantCode
            ref="code"
            v-model:open="isCodeOpen"
            v-model:tab="codeTab"
            :edits="edits"
            :may-script="store.sheet.allowsScripts"
            @preview="typed = $event"
            @write="(edit, content) => variantEdits().write(edit, content as EditContent & { value: unknown })"
          />
        </div>
        <aside
          class="relative flex flex-col gap-5 overflow-y-auto border-l border-line bg-ground p-4 max-lg:max-h-[45dvh] max-sm:max-h-[36dvh] max-lg:border-t max-lg:border-l-0"
          aria-label="Edits"
        >
          <div>
            <WidthChoice v-model="widths" :used="usedWidths" />
            <p v-if="isUnseen" class="mt-1 text-sm text-rust" role="status">
              The page is shown {{ frameWidth }} px wide, where these edits do not apply.
            </p>
          </div>
          <ElementPanel
            v-if="selected.length === 1"
            :key="`${selected[0]!.ref} ${widths?.from} ${widths?.below}`"
            :site-id="siteId"
            :site-address="siteAddress"
            :page="pagePath.split('?')[0]!"
            :element="selected[0]!"
            :edits="editsOfWidths"
            :widths="widths"
            :upload="upload"
            :may-script="store.sheet.allowsScripts"
            @preview="typed = $event"
            @commit="commit"
            @remove="variantEdits().remove"
            @step="frame?.send({ vetch: 'step', step: $event })"
            @select="select([$event])"
            @hover="frame?.send({ vetch: 'hover', ref: $event })"
            @leave="select([])"
            @begin-css="code?.beginRule(selected[0]!.selector)"
            @begin-script="code?.beginScript(selected[0]!.selector)"
          />
          <SeveralPanel
            v-else-if="selected.length > 1"
            :elements="selected"
            :edits="editsOfWidths"
            :widths="widths"
            @preview="typed = $event"
            @commit="commit"
            @select="select([$event])"
          />
          <p v-else class="text-ink-soft">Click an element of the page.</p>
          <section>
            <div class="mb-1 flex items-center gap-2">
              <h3>Edits of this {{ levelId ? 'level' : 'variant' }}</h3>
              <BaseButton class="ml-auto" kind="quiet" @click="isCodeOpen = !isCodeOpen">Code</BaseButton>
            </div>
            <EditList
              :edits="edits"
              :outcomes="outcomes"
              :others="others"
              :widths="widths"
              @show="showEdit"
              @rename="(edit, name) => variantEdits().rename(edit, name)"
              @toggle="variantEdits().toggle"
              @move="(edit, by) => variantEdits().move(edit, by)"
              @copy="(edit, to) => variantEdits().copy(edit, to)"
              @hold="variantEdits().hold($event, widths)"
              @limit="variantEdits().limit($event, pagePath.split('?')[0]!)"
              @remove="variantEdits().remove"
            />
          </section>
        </aside>
      </div>
    </template>
  </div>
</template>
