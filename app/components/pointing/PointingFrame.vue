<script setup lang="ts">
import type { PointingSession } from '~~/shared/experiments/replies'
import { PAGE_WIDTHS, type PageWidth } from '~/edits/pageWidths'
import type { ServedThing } from '~~/shared/delivery/preview'
import { plainEdits, plainThings } from '~/edits/plainEdits'
import type { Edit } from '~~/core/edits/content'
import type { EditOutcome, FromPage, MadeOnPage, PointedElement } from '~~/shared/edits/pointing'

/** The page under test, with the edits that are being made, in a frame of a width of its own or in a window. */
const props = defineProps<{
  /** Gets the page's address with a token for pointing. */
  openPage: (path: string) => Promise<PointingSession>
  firstPage: string
  edits: readonly Edit[]
  /** What visitors of the site are served anyway: the page is shown with it, unless it is left out. */
  served?: readonly ServedThing[]
}>()
const emit = defineEmits<{
  pointed: [elements: PointedElement[]]
  made: [edits: MadeOnPage[]]
  outcomes: [outcomes: EditOutcome[]]
  pressed: [key: Extract<FromPage, { vetch: 'pressed' }>['key']]
  opened: [path: string]
}>()
const width = defineModel<PageWidth>('width', { default: '1280' })
const path = ref(props.firstPage)
const isPointing = ref(true)
/** What the arrow keys have led to. */
const walked = ref('')
/** What went wrong in the script of the variant. */
const failure = ref('')
const sideways = ref(0)
const { scale, height } = usePageScale(useTemplateRef<HTMLElement>('room'), () => Number(width.value))
const { session, address, state, problem, name, open, send, ownWindow, openWindow, closeWindow, isCopy, showCopy } =
  usePageChannel(
    useTemplateRef<HTMLIFrameElement>('frame'),
    () => props.openPage(path.value),
    (message) => {
      switch (message.vetch) {
        case 'ready': {
          const { pathname, search } = new URL(message.address)
          path.value = pathname + search
          emit('opened', path.value)
          sendServed()
          sendEdits()
          return send({ vetch: 'mode', isPointing: isPointing.value })
        }
        case 'followed':
          path.value = message.path
          return void open()
        case 'walked':
          return (walked.value = message.words)
        case 'pointed':
          walked.value = ''
          return emit('pointed', message.elements)
        case 'made':
          return emit('made', message.edits)
        case 'failed':
          return (failure.value = `The script failed${message.line > 0 ? ` in line ${message.line}` : ''}: ${message.message}`)
        case 'sideways':
          return (sideways.value = message.by)
        case 'applied':
          return emit('outcomes', message.outcomes)
        case 'pressed':
          return emit('pressed', message.key)
      }
    },
  )
const isWithServed = ref(true)
const sendServed = () => send({ vetch: 'served', things: plainThings(isWithServed.value ? props.served : []) })
watch([() => props.served, isWithServed], () => {
  sendServed()
  sendEdits()
})
const sendEdits = () => send({ vetch: 'edits', edits: plainEdits(props.edits) })
watch(() => props.edits, sendEdits)
/** A script that stays as it is does not run again: what it threw still holds. */
const scripts = computed(() =>
  JSON.stringify(
    props.edits.map((edit) => (edit.kind === 'script' && !edit.isOff ? edit.value : null)).filter(Boolean),
  ),
)
watch(scripts, () => (failure.value = ''))
watch(isPointing, () => send({ vetch: 'mode', isPointing: isPointing.value }))
onMounted(open)
const servedNames = computed(() => props.served?.map((each) => each.name).join(', '))
const hint = computed(() => {
  if (state.value === 'opening') return 'Opening the page …'
  if (state.value === 'silent') return ''
  if (!isPointing.value) return 'The page reacts as it does for visitors. Nothing is counted.'
  if (walked.value) return `${walked.value}. Enter chooses it.`
  return 'Click an element or use the arrow keys. Shift adds another; drag to move.'
})
defineExpose({ send })
</script>

<template>
  <div class="flex min-h-0 flex-col">
    <form class="flex flex-wrap items-end gap-x-3 gap-y-2 px-5 py-2.5" @submit.prevent="open">
      <TextField v-model="path" class="w-52 max-sm:w-28" label="Page" :error="problem" />
      <BaseButton type="submit">Open</BaseButton>
      <ChoiceField v-model="width" class="w-38" label="Width" :choices="PAGE_WIDTHS" />
      <BaseButton :aria-pressed="!isPointing" @click="isPointing = !isPointing">{{
        isPointing ? 'Browse' : 'Edit'
      }}</BaseButton>
      <BaseButton v-if="ownWindow" kind="quiet" @click="closeWindow">Back to this window</BaseButton>
      <BaseButton v-else kind="quiet" class="max-sm:hidden" @click="openWindow">Open in a new window</BaseButton>
    </form>
    <div class="flex flex-wrap items-baseline gap-x-4 px-5 pb-1.5 text-sm">
      <p class="mr-auto min-h-7 truncate text-ink-soft" role="status">{{ hint }}</p>
      <label v-if="served && served.length > 0" class="flex items-center gap-2" :title="servedNames">
        <input v-model="isWithServed" type="checkbox" class="accent-accent" /> With what is served
      </label>
    </div>
    <p v-if="failure" class="mx-5 mb-2 border-l-4 border-rust py-1 pl-3 break-words" role="alert">{{ failure }}</p>
    <SidewaysNote class="mx-5 mb-2" :by="sideways" />
    <p v-if="isCopy" class="mx-5 mb-2 text-sm" role="status">
      This is a copy of the page. Edits made here hold for the page itself.
      <BaseButton kind="quiet" @click="showCopy(false)">Open the page itself</BaseButton>
    </p>
    <div v-if="state === 'silent'" class="mx-5 mb-2 border-l-4 border-rust py-1 pl-3" role="alert">
      <p>The page does not answer. Check that it carries the script line, then open it again.</p>
      <p v-if="!ownWindow">
        A page that may not be shown in a frame works in a window of its own.
        <BaseButton kind="quiet" @click="openWindow">Open the window</BaseButton>
      </p>
      <p v-if="!isCopy">
        Vetch can open a copy of the page. Parts that its scripts build may be missing.
        <BaseButton kind="quiet" @click="showCopy(true)">Open a copy</BaseButton>
      </p>
    </div>
    <p v-if="ownWindow" class="border-t border-line p-5 text-ink-soft">
      The page is open in a window of its own. What you point at there is shown here.
    </p>
    <div
      v-else
      ref="room"
      class="relative min-h-40 flex-1 overflow-hidden border-t border-line bg-neutral-soft lg:min-h-100"
    >
      <iframe
        v-if="session"
        :key="`${isCopy} ${session.token}`"
        ref="frame"
        :name="name"
        :src="address"
        title="The page under test"
        :sandbox="isCopy ? 'allow-scripts allow-forms' : 'allow-scripts allow-same-origin allow-forms'"
        class="absolute top-0 origin-top-left bg-white"
        :style="{
          width: `${width}px`,
          height: `${height}px`,
          transform: `scale(${scale})`,
          left: scale < 1 ? 0 : `calc(50% - ${Number(width) / 2}px)`,
        }"
      />
    </div>
  </div>
</template>
