<script setup lang="ts">
import type { Edit } from '~~/core/edits/edit'
import type { PointingSession } from '~~/shared/experiment'
import { readFromPage, type Box, type ToPage } from '~~/shared/pointing'

/** A page of the site as it is now, at a width, as tall as it is; tells where elements stand on it. */
const props = defineProps<{
  siteId: number
  path: string
  width: number
  /** Tallness of the window before the page has told its own. */
  windowHeight: number
  /** Paths of elements as clicks keep them. */
  paths: readonly string[]
  /** Changes of a variant that the page is shown with. */
  edits: readonly Edit[]
}>()
const emit = defineEmits<{ located: [boxes: (Box | null)[], page: { width: number; height: number }] }>()
const api = useApi()
const frame = useTemplateRef<HTMLIFrameElement>('frame')
const session = shallowRef<PointingSession | null>(null)
const state = ref<'opening' | 'ready' | 'silent'>('opening')
const problem = ref<string | null>(null)
const height = ref(props.windowHeight)
/** A page that has the script line answers well within this time. */
const PATIENCE = 8000
let patience: ReturnType<typeof setTimeout> | undefined
const container = useTemplateRef<HTMLElement>('container')
const { width: room } = useElementSize(container)
const scale = computed(() => Math.min(1, room.value / props.width || 1))

async function open(): Promise<void> {
  clearTimeout(patience)
  state.value = 'opening'
  problem.value = null
  try {
    session.value = await api('openPage', { site: props.siteId, body: { path: props.path } })
    patience = setTimeout(() => (state.value = state.value === 'opening' ? 'silent' : state.value), PATIENCE)
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    problem.value = error.message
  }
}
watch([() => props.path, () => props.width], open, { immediate: true })
onBeforeUnmount(() => clearTimeout(patience))

function send(message: ToPage): void {
  if (session.value && state.value === 'ready')
    frame.value?.contentWindow?.postMessage(message, new URL(session.value.address).origin)
}
const locate = () => send({ vetch: 'locate', paths: [...props.paths] })
const change = () => send({ vetch: 'edits', edits: JSON.parse(JSON.stringify(props.edits)) as Edit[] })
watch(() => props.paths, locate)
watch(
  () => props.edits,
  () => (change(), locate()),
)

useEventListener('message', (event: MessageEvent) => {
  const isOwn =
    session.value &&
    event.source === frame.value?.contentWindow &&
    event.origin === new URL(session.value.address).origin
  const message = isOwn ? readFromPage(event.data, session.value!.token) : null
  if (message?.vetch === 'ready') {
    state.value = 'ready'
    if (props.edits.length > 0) change()
    locate()
  }
  if (message?.vetch === 'located') {
    // The page itself may be taller than the window that it was first shown in.
    height.value = Math.max(props.windowHeight, Math.min(20_000, message.page.height))
    emit('located', message.boxes, message.page)
  }
})
</script>

<template>
  <div ref="container" class="relative min-w-0">
    <ProblemNote v-if="problem" :text="problem" @retry="open" />
    <p v-else-if="state === 'silent'" class="mb-2 border-l-4 border-rust py-1 pl-3" role="alert">
      The page does not answer, so nothing can be drawn over it; the list tells what was clicked. Check that the page
      carries the script line and may be shown in a frame.
    </p>
    <LoadingNote v-else-if="state === 'opening'" />
    <div
      v-if="session"
      class="relative origin-top-left overflow-hidden border border-line-strong"
      :style="{
        width: `${width}px`,
        height: `${height}px`,
        transform: `scale(${scale})`,
        marginBottom: `${-height * (1 - scale)}px`,
      }"
    >
      <iframe
        :key="session.token"
        ref="frame"
        :src="session.address"
        :title="`The page ${path}`"
        sandbox="allow-scripts allow-same-origin"
        tabindex="-1"
        class="absolute inset-0 size-full bg-white"
      />
      <div class="absolute inset-0"><slot v-if="state === 'ready'" :height="height" /></div>
    </div>
  </div>
</template>
