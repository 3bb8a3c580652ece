<script setup lang="ts" generic="Row">
import VChart from 'vue-echarts'
import { chartFile, type ChartOption } from '~/charts/chartFile'
import { readTokens, type ChartTokens } from '~/charts/chartTokens'
import { vetchTheme } from '~/charts/vetchTheme'
import { saveFile } from '~/data/saveFile'
import type { TableColumn } from '~/data/tableColumn'
import { tableCsv } from '~/data/tableCsv'

/** A chart with its name and unit, which opens to its table and downloads as PNG, SVG and CSV. */
const props = defineProps<{
  title: string
  /** What is drawn, of whom, and in which time zone. */
  note: string
  /** What the chart says, for those who do not see it. */
  summary: string
  draw: (tokens: ChartTokens) => ChartOption
  columns: readonly TableColumn<Row>[]
  rows: readonly Row[]
  rowKey: (row: Row) => string | number
}>()
const notices = useNoticesStore()
const isTable = ref(false)
const isDark = useDark()
const frame = useTemplateRef<HTMLElement>('frame')
const tokens = ref<ChartTokens | null>(null)
watch(
  isDark,
  async () => {
    await nextTick()
    const style = getComputedStyle(frame.value ?? document.documentElement)
    tokens.value = readTokens((token) => style.getPropertyValue(token).trim())
  },
  { immediate: true, flush: 'post' },
)
// Nothing is explained by lines that grow.
const option = computed(() => tokens.value && { ...props.draw(tokens.value), animation: false })
const theme = computed(() => (tokens.value ? vetchTheme(tokens.value) : {}))
const fileName = computed(() => props.title.toLowerCase().replace(/[^a-z0-9]+/g, '-'))

async function save(format: 'png' | 'svg'): Promise<void> {
  try {
    saveFile(`${fileName.value}.${format}`, await chartFile(props.draw(tokens.value!), tokens.value!, format))
  } catch (error) {
    notices.show(error instanceof Error ? error.message : 'The picture could not be made.', { tone: 'problem' })
  }
}
const saveTable = () => saveFile(`${fileName.value}.csv`, tableCsv(props.columns, props.rows))
</script>

<template>
  <figure ref="frame" class="flex flex-col gap-1">
    <figcaption class="flex flex-wrap items-baseline gap-x-3">
      <span class="font-medium">{{ title }}</span>
      <span class="w-full text-sm text-ink-soft order-last">{{ note }}</span>
      <span class="-mr-3 ml-auto flex text-sm">
        <BaseButton kind="quiet" :aria-label="`${isTable ? 'Chart' : 'Table'}: ${title}`" @click="isTable = !isTable">{{
          isTable ? 'Chart' : 'Table'
        }}</BaseButton>
        <BaseButton kind="quiet" :aria-label="`PNG: ${title}`" @click="save('png')">PNG</BaseButton>
        <BaseButton kind="quiet" :aria-label="`SVG: ${title}`" @click="save('svg')">SVG</BaseButton>
        <BaseButton kind="quiet" :aria-label="`CSV: ${title}`" @click="saveTable">CSV</BaseButton>
      </span>
    </figcaption>
    <slot name="choice" />
    <DataTable v-if="isTable" :label="title" :columns="columns" :rows="rows" :row-key="rowKey" is-plain />
    <p v-else-if="rows.length === 0" class="py-6 text-ink-soft">No data yet.</p>
    <div v-else role="img" :aria-label="summary" class="h-64">
      <VChart
        v-if="option"
        :option="option"
        :theme="theme"
        :init-options="{ renderer: 'svg' }"
        :update-options="{ notMerge: true }"
        autoresize
      />
    </div>
  </figure>
</template>
