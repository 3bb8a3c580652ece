<script setup lang="ts">
import type { PagePicture } from '~~/shared/pictures/pageOperations'
import type { HeatmapLayer } from '~/components/heatmap/HeatmapView.vue'
import { openablePath, readPage } from '~~/shared/evidence/filter'

useHead({ title: 'Heatmap · Vetch' })
const route = useRoute('sites-site-evidence-heatmap')
const siteId = Number(route.params.site)
const { filter, daysBack, compare, compared, comparedName, set, choices, timeZone } = useEvidence(siteId)
const account = useAccountStore()
const mayEdit = computed(() => account.site(siteId)?.role !== 'viewer')
const changeQuery = useQueryChange()
const of = computed({
  get: () => (typeof route.query.of === 'string' && readPage(route.query.of) ? route.query.of : 'is:/'),
  set: (value: string) => changeQuery((query) => ({ ...query, of: value || 'is:/' })),
})
const LAYERS: { value: HeatmapLayer; label: string }[] = [
  { value: 'click', label: 'Clicks' },
  { value: 'rage', label: 'Rage clicks' },
  { value: 'dead', label: 'Dead clicks' },
  { value: 'reach', label: 'Scroll reach' },
  { value: 'attention', label: 'Attention' },
]
const layer = useQueryChoice('layer', () => LAYERS.map(({ value }) => value))
/** Windows that count as a device, and the one that the page is shown in. */
const WIDTHS = {
  phone: { device: 'phones', width: 390, windowHeight: 844, range: { widthFrom: 0, widthBelow: 600 } },
  tablet: { device: 'tablets', width: 820, windowHeight: 1180, range: { widthFrom: 600, widthBelow: 1024 } },
  desktop: { device: 'desktops', width: 1440, windowHeight: 900, range: { widthFrom: 1024, widthBelow: 100_000 } },
}
type Width = keyof typeof WIDTHS
const device = useQueryChoice<Width>('width', () => ['phone', 'tablet', 'desktop'])
const DEVICES: { value: Width; label: string }[] = [
  { value: 'phone', label: 'Phone' },
  { value: 'tablet', label: 'Tablet' },
  { value: 'desktop', label: 'Desktop' },
]
const picture = shallowRef<PagePicture | null>(null)
const choice = useTemplateRef<{ fixPage: () => Promise<string | null> }>('choice')
provideBeforePicture(async () => {
  const problem = (await choice.value?.fixPage()) ?? null
  const isOfVariant = [filter.value, compared.value].some((each) => each?.segment?.includes('variant:'))
  return problem ?? (isOfVariant ? 'The page is drawn without the changes of the variant.' : null)
})
const own = computed(() => {
  return { siteId, of: of.value, layer: layer.value, picture: picture.value, ...WIDTHS[device.value] }
})
const title = computed(() => segmentInWords(filter.value.segment, choices.value))
</script>

<template>
  <div class="p-6 lg:p-8">
    <EvidenceHead :site-id="siteId" note="Where people click, and how far they read" />
    <div class="mb-4">
      <FilterBar
        :filter="filter"
        :days-back="daysBack"
        :choices="choices"
        :compare="compare"
        has-no-pages
        @change="set"
      >
        <PagesField v-model="of" label="Page" :pages="choices?.pages ?? []" />
      </FilterBar>
    </div>
    <div class="mb-3 flex flex-wrap items-center gap-x-5 gap-y-2">
      <ButtonRow v-model="layer" label="What is drawn" :choices="LAYERS" />
      <ButtonRow v-model="device" label="Width of the window" :choices="DEVICES" />
      <PictureChoice
        ref="choice"
        v-model="picture"
        :site-id="siteId"
        :path="openablePath(of)"
        :width="own.width"
        :time-zone="timeZone"
        :may-edit="mayEdit"
      />
    </div>
    <SampleNote v-if="layer !== 'click'" class="mb-3" :choices="choices" />
    <div class="grid items-start gap-8" :class="compared ? 'xl:grid-cols-2' : ''">
      <HeatmapView v-bind="own" :filter="filter" :title="title" :is-beside="!compared && device !== 'desktop'" />
      <HeatmapView v-if="compared" v-bind="own" :filter="compared" :title="comparedName" />
    </div>
  </div>
</template>
