<script setup lang="ts">
import type { PagePicture } from '~~/shared/pictures/pageOperations'
import type { Edit } from '~~/core/edits/content'
import PageFrame from '~/components/heatmap/PageFrame.vue'
import PicturedPage from '~/components/heatmap/PicturedPage.vue'
import { openablePath, readSegment } from '~~/shared/evidence/filter'
import type { ClicksView, ReadingView } from '~~/shared/evidence/reports'
import type { Box } from '~~/shared/edits/pointing'

export type HeatmapLayer = 'click' | 'rage' | 'dead' | 'reach' | 'attention'

/** One heatmap: the page, what is drawn over it, and the list of elements. */
const props = defineProps<{
  siteId: number
  filter: Filter
  /** The page, such as is:/book. */
  of: string
  layer: HeatmapLayer
  width: number
  windowHeight: number
  /** Windows that count as such a device. */
  range: { widthFrom: number; widthBelow: number }
  /** What such windows are, in words. */
  device: string
  /** The page as it was, to be drawn over; null for the page as it is. */
  picture: PagePicture | null
  /** Whose clicks these are. */
  title: string
  /** Whether the list has room beside the page. */
  isBeside?: boolean
}>()
const api = useApi()
const isClicks = computed(() => props.layer === 'click' || props.layer === 'rage' || props.layer === 'dead')
const query = computed(() => ({ ...props.filter, of: props.of, ...props.range }))
const { value, problem, isLoading, reload } = useLoaded(async () => ({
  clicks: isClicks.value
    ? await api('reportClicks', { site: props.siteId, query: { ...query.value, kind: props.layer } })
    : null,
  reading: isClicks.value ? null : await api('reportReading', { site: props.siteId, query: query.value }),
}))
watch([query, () => props.layer], reload)
const clicks = computed<ClicksView | null>(() => value.value?.clicks ?? null)
const reading = computed<ReadingView | null>(() => value.value?.reading ?? null)
const path = computed(() => openablePath(props.of))
const NO_PATHS: string[] = []
const paths = computed(() => clicks.value?.elements.map((element) => element.path) ?? NO_PATHS)
const boxes = shallowRef<(Box | null)[] | null>(null)
const page = shallowRef<{ width: number; height: number } | null>(null)
function placed(next: (Box | null)[], size: { width: number; height: number }): void {
  // An answer to an earlier question has other elements.
  if (next.length !== paths.value.length) return
  boxes.value = next
  page.value = size
}
const pointed = ref<number | null>(null)
watch(paths, () => (pointed.value = null))

/** Whoever looks at one variant sees the page as it is in that variant. */
const edits = shallowRef<Edit[]>([])
watch(
  () => props.filter.segment,
  async (segment) => {
    const variant = (segment ? readSegment(segment) : null)?.find(({ name }) => name === 'variant')
    const [experiment, position] = variant?.value.split('.').map(Number) ?? []
    const sheet = experiment ? await api('readExperiment', { site: props.siteId, experiment }).catch(() => null) : null
    edits.value = sheet?.variants[position!]?.edits ?? []
  },
  { immediate: true },
)
const shownPage = computed(() => {
  const { siteId, width, windowHeight, picture } = props
  return picture ? { siteId, picture } : { siteId, width, windowHeight, path: path.value, edits: edits.value }
})
const DEFINITION =
  'Of sessions that began in these days, with a window of such a width. Clicks are counted by the element that they hit, and lie in it where they lay in it then, whatever the page has become. Reach counts sessions that had the middle of a part of the page in the window or above it; attention is the mean time that it was in the window.'
</script>

<template>
  <section class="flex min-w-0 flex-col gap-3" :aria-label="title" :aria-busy="isLoading">
    <div class="flex flex-wrap items-baseline justify-between gap-x-3">
      <div class="flex flex-wrap items-baseline gap-x-4">
        <h2>{{ title }}</h2>
        <p v-if="clicks">
          {{ countOf(clicks.clicks, { click: 'click', rage: 'rage click', dead: 'dead click' }[layer as 'click']) }} by
          {{ countOf(clicks.visitors, 'visitor') }} on {{ device
          }}<template v-if="clicks.others > 0"
            >, {{ formatCount(clicks.others) }} of them on elements further down the list</template
          >.
        </p>
        <p v-else-if="reading">
          {{ countOf(reading.sessions, 'session')
          }}<template v-if="reading.height">; the page was typically {{ formatCount(reading.height) }} px tall</template
          >.
        </p>
      </div>
      <ReportActions
        :site-id="siteId"
        :report="isClicks ? 'clicks' : 'reading'"
        :question="isClicks ? { ...query, kind: layer } : query"
        :definition="DEFINITION"
      />
    </div>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <div
      class="flex flex-col gap-6"
      :class="{ 'xl:grid xl:items-start': isBeside }"
      :style="isBeside ? { gridTemplateColumns: `${Math.min(width, 560)}px minmax(0, 1fr)` } : {}"
    >
      <component :is="picture ? PicturedPage : PageFrame" v-bind="shownPage" :paths="paths" @located="placed">
        <template #default="{ height }: { height: number }">
          <ClickLayer
            v-if="clicks && boxes && page"
            v-model:pointed="pointed"
            :report="clicks"
            :boxes="boxes"
            :page="page"
          />
          <ReadingLayer v-else-if="reading" :report="reading" :kind="layer as 'reach'" :height="height" />
        </template>
      </component>
      <ElementList
        v-if="clicks"
        v-model:pointed="pointed"
        :report="clicks"
        :boxes="boxes"
        :label="`Elements, ${title}`"
      />
    </div>
  </section>
</template>
