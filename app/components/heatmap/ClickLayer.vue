<script setup lang="ts">
import { elementInWords } from '~~/core/measurement/elementInWords'
import type { ClicksView } from '~~/shared/evidence/reports'
import type { Box } from '~~/shared/edits/pointing'

/** Clicks over a page: density with contour lines, counts at the strongest elements, and the element under the pointer. */
const props = defineProps<{
  report: ClicksView
  boxes: readonly (Box | null)[]
  page: { width: number; height: number }
}>()
const pointed = defineModel<number | null>('pointed', { required: true })
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const { picture, draw } = useHeatmapPicture()
const isDark = useDark()
const NAMED = 6

watch(
  [() => props.report, () => props.boxes, isDark],
  () => {
    const color = getComputedStyle(document.documentElement).getPropertyValue('--accent').trim()
    const elements = props.report.elements.map(({ cells }) => ({
      cells: cells.map(([a, b]): [number, number] => [a, b]),
    }))
    const boxes = props.boxes.map((box) => box && { ...box })
    draw({ elements, boxes, page: { ...props.page }, color })
  },
  { immediate: true, flush: 'post' },
)
watch(
  [picture, canvas],
  () => {
    if (!picture.value || !canvas.value) return
    canvas.value.width = picture.value.width
    canvas.value.height = picture.value.height
    canvas.value.getContext('2d')!.drawImage(picture.value, 0, 0)
    canvas.value.dataset.drawn = 'yes'
  },
  { flush: 'post' },
)
/** The strongest elements that are on the page carry their counts. */
const named = computed(() =>
  props.report.elements
    .map((element, index) => ({ element, index, box: props.boxes[index] }))
    .filter((each): each is typeof each & { box: Box } => !!each.box)
    .slice(0, NAMED),
)
const place = ({ x, y, width, height }: Box) => ({
  left: `${x}px`,
  top: `${y}px`,
  width: `${width}px`,
  height: `${height}px`,
})

/** The smallest clicked element under the pointer. */
function point(event: PointerEvent): void {
  const area = event.currentTarget as HTMLElement
  const { left, top, width } = area.getBoundingClientRect()
  const scale = width / area.offsetWidth
  const [x, y] = [(event.clientX - left) / scale, (event.clientY - top) / scale]
  const under = props.boxes
    .map((box, index) => ({ box, index }))
    .filter(({ box }) => box && x >= box.x && x <= box.x + box.width && y >= box.y && y <= box.y + box.height)
    .sort((a, b) => a.box!.width * a.box!.height - b.box!.width * b.box!.height)
  pointed.value = under[0]?.index ?? null
}
const pointedBox = computed(() => (pointed.value === null ? null : (props.boxes[pointed.value] ?? null)))
const pointedElement = computed(() => (pointed.value === null ? null : (props.report.elements[pointed.value] ?? null)))
</script>

<template>
  <div class="absolute inset-0" @pointermove="point" @pointerleave="pointed = null">
    <canvas
      ref="canvas"
      class="absolute inset-x-0 top-0"
      :style="{ width: `${page.width}px`, height: `${page.height}px` }"
      data-testid="heatmap"
      data-drawn="no"
    />
    <span
      v-for="{ element, index, box } in named"
      :key="index"
      class="pointer-events-none absolute rounded bg-ink px-1 text-xs font-semibold text-ground"
      :style="{ left: `${box.x + box.width}px`, top: `${box.y}px`, transform: 'translate(-50%, -50%)' }"
      >{{ formatCount(element.clicks) }}</span
    >
    <div v-if="pointedBox" class="pointer-events-none absolute border-2 border-ink" :style="place(pointedBox)">
      <span class="absolute top-full left-0 mt-1 w-max max-w-72 rounded bg-ink px-2 py-1 text-sm text-ground"
        >{{ elementInWords(pointedElement!) }}: {{ formatCount(pointedElement!.clicks) }} clicks,
        {{ formatShare(pointedElement!.clicks / report.clicks, 1) }}</span
      >
    </div>
  </div>
</template>
