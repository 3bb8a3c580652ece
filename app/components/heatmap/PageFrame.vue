<script setup lang="ts">
import type { Edit } from '~~/core/edits/content'
import type { Box } from '~~/shared/edits/pointing'
import { plainEdits } from '~/edits/plainEdits'

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
const height = ref(props.windowHeight)
const { scale } = usePageScale(useTemplateRef<HTMLElement>('container'), () => props.width)
const { session, state, problem, name, open, send } = usePageChannel(
  frame,
  () => api('openPage', { site: props.siteId, body: { path: props.path } }),
  (message) => {
    if (message.vetch === 'ready') {
      if (props.edits.length > 0) change()
      locate()
    }
    if (message.vetch === 'located') {
      // The page itself may be taller than the window that it was first shown in.
      height.value = Math.max(props.windowHeight, Math.min(20_000, message.page.height))
      emit('located', message.boxes, message.page)
    }
  },
)
watch([() => props.path, () => props.width], open, { immediate: true })

const locate = () => state.value === 'ready' && send({ vetch: 'locate', paths: [...props.paths] })
const change = () => state.value === 'ready' && send({ vetch: 'edits', edits: plainEdits(props.edits) })
watch(() => props.paths, locate)
watch(
  () => props.edits,
  () => (change(), locate()),
)
</script>

<template>
  <div ref="container" class="relative min-w-0">
    <ProblemNote v-if="problem" :text="problem" @retry="open()" />
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
        :name="name"
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
