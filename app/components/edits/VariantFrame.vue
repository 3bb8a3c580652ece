<script setup lang="ts">
import type { ServedThing } from '~~/shared/delivery/preview'
import { plainEdits, plainThings } from '~/edits/plainEdits'
import type { Edit } from '~~/core/edits/content'

/** A page with the edits of a variant, as its visitors see it, at a width. Nothing is counted. */
const props = defineProps<{
  siteId: number
  path: string
  width: number
  edits: readonly Edit[]
  /** What visitors of the site are served anyway, and is shown under the edits. */
  served: readonly ServedThing[]
  title: string
  /** Shows a copy that is told of the device of this width, and of this language; null shows the page itself. */
  language: string | null
}>()
const api = useApi()
const sideways = ref(0)
const { scale, height } = usePageScale(useTemplateRef<HTMLElement>('room'), () => props.width)
const { session, address, state, problem, name, open, send, isCopy, showCopy } = usePageChannel(
  useTemplateRef<HTMLIFrameElement>('frame'),
  () => api('openPage', { site: props.siteId, body: { path: props.path } }),
  (message) => {
    if (message.vetch === 'sideways') sideways.value = message.by
    if (message.vetch !== 'ready') return
    send({ vetch: 'mode', isPointing: false })
    show()
  },
)
function show(): void {
  send({ vetch: 'served', things: plainThings(props.served) })
  send({ vetch: 'edits', edits: plainEdits(props.edits) })
}
watch([() => props.edits, () => props.served], show)
watch(
  [() => props.path, () => (props.language === null ? null : props.width), () => props.language],
  () => showCopy(props.language !== null),
  {
    immediate: true,
  },
)
const source = computed(() => {
  if (!isCopy.value || !address.value) return address.value
  const told = new URLSearchParams({ device: String(props.width), language: props.language ?? 'en' })
  return `${address.value}&${told.toString()}`
})
</script>

<template>
  <div class="flex min-h-0 flex-col">
    <ProblemNote v-if="problem" :text="problem" @retry="open()" />
    <p v-if="state === 'silent'" class="border-l-4 border-rust py-1 pl-3" role="alert">
      The page does not answer. Check that it carries the script line and may be shown in a frame.
    </p>
    <SidewaysNote class="mb-1.5" :by="sideways" />
    <div ref="room" class="relative min-h-60 flex-1 overflow-hidden border border-line-strong bg-neutral-soft">
      <iframe
        v-if="session"
        :key="`${isCopy} ${session.token}`"
        ref="frame"
        :name="name"
        :src="source"
        :title="title"
        :sandbox="isCopy ? 'allow-scripts allow-forms' : 'allow-scripts allow-same-origin allow-forms'"
        class="absolute top-0 origin-top-left bg-white"
        :style="{
          width: `${width}px`,
          height: `${height}px`,
          transform: `scale(${scale})`,
          left: scale < 1 ? 0 : `calc(50% - ${width / 2}px)`,
        }"
      />
    </div>
  </div>
</template>
