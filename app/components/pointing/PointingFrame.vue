<script setup lang="ts">
import type { Edit } from '~~/core/edits/edit'
import type { PointingSession } from '~~/shared/experiment'
import { readFromPage, type PointedElement, type ToPage } from '~~/shared/pointing'

const props = defineProps<{
  /** Gets the page's address with a token for pointing. */
  openPage: (path: string) => Promise<PointingSession>
  firstPage: string
  edits: readonly Edit[]
  selected: string | null
}>()
const emit = defineEmits<{ pointed: [element: PointedElement]; escape: []; opened: [path: string] }>()
const frame = useTemplateRef<HTMLIFrameElement>('frame')
const path = ref(props.firstPage)
const session = shallowRef<PointingSession | null>(null)
const problem = ref('')
/** What the arrow keys have led to. */
const walked = ref('')
const missing = ref<string[]>([])
const state = ref<'opening' | 'ready' | 'silent'>('opening')
/** A page that has the script line answers well within this time. */
const PATIENCE = 8000
let patience: ReturnType<typeof setTimeout> | undefined

async function open(): Promise<void> {
  problem.value = ''
  state.value = 'opening'
  clearTimeout(patience)
  try {
    session.value = await props.openPage(path.value)
    patience = setTimeout(() => (state.value = state.value === 'opening' ? 'silent' : state.value), PATIENCE)
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    problem.value = error.message
  }
}
const hint = computed(() => {
  if (state.value === 'opening') return 'Opening the page …'
  if (state.value === 'silent') return ''
  return walked.value ? `${walked.value}. Enter chooses it.` : 'Click an element, or walk with the arrow keys.'
})
onMounted(open)
onBeforeUnmount(() => clearTimeout(patience))

function send(message: ToPage): void {
  if (session.value) frame.value?.contentWindow?.postMessage(message, new URL(session.value.address).origin)
}
const shortened = (text: string) => text.replace(/\s+/g, ' ').trim().slice(0, 60)
const sendEdits = () => send({ vetch: 'edits', edits: JSON.parse(JSON.stringify(props.edits)) as Edit[] })

useEventListener('message', (event: MessageEvent) => {
  if (
    !session.value ||
    event.source !== frame.value?.contentWindow ||
    event.origin !== new URL(session.value.address).origin
  )
    return
  const message = readFromPage(event.data, session.value.token)
  if (message?.vetch === 'ready') {
    state.value = 'ready'
    emit('opened', path.value)
    sendEdits()
  }
  if (message?.vetch === 'walked') walked.value = `${message.element.tag}: ${shortened(message.element.text)}`
  if (message?.vetch === 'pointed') emit('pointed', message.element)
  if (message?.vetch === 'applied') missing.value = message.missing
  if (message?.vetch === 'escape') emit('escape')
})
watch(() => props.edits, sendEdits)
watch(
  () => props.selected,
  (selector) => send({ vetch: 'select', selector }),
)
</script>

<template>
  <div class="flex min-h-0 flex-col">
    <form class="flex items-end gap-2 px-5 py-2.5" @submit.prevent="open">
      <TextField v-model="path" class="max-w-60 flex-1" label="Page" :error="problem" />
      <BaseButton type="submit">Open</BaseButton>
      <p class="min-w-0 flex-1 truncate pb-1.5 text-sm text-ink-soft max-sm:hidden" role="status">{{ hint }}</p>
    </form>
    <p v-if="state === 'silent'" class="border-l-4 border-rust mx-5 mb-2 py-1 pl-3" role="alert">
      The page does not answer. Check that it carries the script line and may be shown in a frame (no X-Frame-Options or
      frame-ancestors against it), then open it again.
    </p>
    <p v-if="missing.length > 0" class="mx-5 mb-2 border-l-4 border-rust py-1 pl-3" role="alert">
      Not on this page: <span class="font-mono text-xs">{{ missing.join(', ') }}</span>
    </p>
    <iframe
      v-if="session"
      :key="session.token"
      ref="frame"
      :src="session.address"
      title="The page under test"
      sandbox="allow-scripts allow-same-origin allow-forms"
      class="min-h-40 w-full flex-1 lg:min-h-100 border-t border-line bg-white"
    />
  </div>
</template>
