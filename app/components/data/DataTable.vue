<script setup lang="ts" generic="Row">
import {
  columnVisibilityFeature,
  createSortedRowModel,
  rowSortingFeature,
  tableFeatures,
  useTable,
  type RowData,
} from '@tanstack/vue-table'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { saveFile } from '~/data/saveFile'
import { cellText, type TableColumn } from '~/data/tableColumn'
import { tableCsv } from '~/data/tableCsv'

/**
 * A table that is sorted by its headings, shows the columns that one chooses, moves with the arrow keys and exports
 * what it shows. Long ones draw only the rows in sight. A cell that is more than text is given as the slot
 * `cell-` and the column's id.
 */
const props = defineProps<{
  /** What the table is about, for screen readers and as the name of its file. */
  label: string
  columns: readonly TableColumn<Row>[]
  rows: readonly Row[]
  rowKey: (row: Row) => string | number
  /** Without the choice of columns and the export: for tables of a few numbers. */
  isPlain?: boolean
  /** Where a server makes the file: of everything, where only a part is here. */
  exportAddress?: string
  /** Where somebody else sorts: a list that comes a page at a time. */
  isSortedElsewhere?: boolean
}>()
/** Id of the column that is sorted by, with a minus before it for the largest first. */
const sort = defineModel<string>('sort', { default: '' })

type Any = RowData & { row: Row }
const MANY_ROWS = 80
const ROW_HEIGHT = 41
const MOST_FRAMES = 30
const features = tableFeatures({ columnVisibilityFeature, rowSortingFeature, sortedRowModel: createSortedRowModel() })
const sorting = computed(() =>
  sort.value ? [{ id: sort.value.replace(/^-/, ''), desc: sort.value.startsWith('-') }] : [],
)
const visibility = ref(Object.fromEntries(props.columns.filter(({ isExtra }) => isExtra).map(({ id }) => [id, false])))
const table = useTable({
  features,
  columns: props.columns.map((column) => ({
    id: column.id,
    accessorFn: (each: Any) => column.value(each.row) ?? undefined,
    enableSorting: !column.isDrawing && !column.isUnsorted,
    sortUndefined: 'last' as const,
    sortFn: (a: { getValue: (id: string) => unknown }, b: { getValue: (id: string) => unknown }, id: string) =>
      compare(a.getValue(id), b.getValue(id)),
  })),
  data: computed<Any[]>(() => props.rows.map((row) => ({ row }))),
  state: computed(() => ({ sorting: sorting.value, columnVisibility: visibility.value })),
  manualSorting: props.isSortedElsewhere,
})
const compare = (a: unknown, b: unknown) =>
  typeof a === 'number' && typeof b === 'number' ? a - b : String(a).localeCompare(String(b), 'en', { numeric: true })

const shown = computed(() => props.columns.filter(({ id }) => visibility.value[id] !== false))
const ordered = computed(() => table.getRowModel().rows.map(({ original }) => original.row))
const scroller = useTemplateRef<HTMLElement>('scroller')
const isLong = computed(() => ordered.value.length > MANY_ROWS)
const virtualizer = useVirtualizer(
  computed(() => ({
    count: ordered.value.length,
    getScrollElement: () => scroller.value,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
    enabled: isLong.value,
  })),
)
/** Rows are as high as what they hold, on a phone much higher. */
const measure = (row: unknown) => isLong.value && row instanceof HTMLElement && virtualizer.value.measureElement(row)
/** The rows that are drawn, with the space of those above and below. */
const drawn = computed(() => {
  if (!isLong.value) return { rows: ordered.value.map((row, index) => ({ row, index })), above: 0, below: 0 }
  const items = virtualizer.value.getVirtualItems()
  return {
    rows: items.map(({ index }) => ({ row: ordered.value[index]!, index })),
    above: items[0]?.start ?? 0,
    below: virtualizer.value.getTotalSize() - (items.at(-1)?.end ?? 0),
  }
})

const turn = ({ id, isNumeric }: TableColumn<Row>) => {
  const [first, second] = isNumeric ? [`-${id}`, id] : [id, `-${id}`]
  sort.value = sort.value === first ? second : sort.value === second ? '' : first
}
const direction = ({ id }: TableColumn<Row>) =>
  sort.value === id ? 'ascending' : sort.value === `-${id}` ? 'descending' : 'none'
function save(): void {
  const name = props.label.toLowerCase().replace(/[^a-z0-9]+/g, '-')
  saveFile(`${name}.csv`, tableCsv(shown.value, ordered.value))
}

/** To the first row, or to what in it takes the focus. */
useSkipTarget('the table', () => {
  const row = scroller.value?.querySelector<HTMLElement>('[data-index]')
  ;(row?.querySelector<HTMLElement>('a, button') ?? row)?.focus()
})

/** Arrow keys go from row to row, to whatever in them takes the focus. */
async function move(event: KeyboardEvent, from: number): Promise<void> {
  const last = ordered.value.length - 1
  const targets: Record<string, number> = { ArrowDown: from + 1, ArrowUp: from - 1, Home: 0, End: last }
  const wanted = targets[event.key]
  const { target } = event
  if (wanted === undefined || (target instanceof HTMLElement && target.matches('input, select, textarea'))) return
  event.preventDefault()
  const index = Math.min(Math.max(wanted, 0), last)
  if (isLong.value) virtualizer.value.scrollToIndex(index)
  const find = () => scroller.value?.querySelector<HTMLElement>(`[data-index="${index}"]`)
  // A row out of sight is drawn once the table has scrolled to it.
  for (let frames = 0; frames < MOST_FRAMES && !find(); frames++) await new Promise(requestAnimationFrame)
  const row = find()
  const inside = row?.querySelector<HTMLElement>('a, button')
  ;(inside ?? row)?.focus()
}
</script>

<template>
  <div>
    <div v-if="!isPlain" class="mb-1 flex items-center justify-end gap-1 text-sm">
      <slot name="actions" />
      <ColumnChoice v-model="visibility" :columns="columns" :label="label" />
      <a
        v-if="exportAddress"
        :href="exportAddress"
        class="rounded px-3 py-1.5 font-medium text-ink-soft hover:text-ink hover:underline"
        :aria-label="`Export as CSV: ${label}`"
        >CSV</a
      >
      <BaseButton v-else kind="quiet" :aria-label="`Export as CSV: ${label}`" @click="save">CSV</BaseButton>
    </div>
    <div
      ref="scroller"
      class="relative overflow-x-auto"
      :class="{ 'max-h-112 overflow-y-auto': isLong }"
      :tabindex="isLong ? 0 : undefined"
      @keydown.self="move($event, -1)"
    >
      <table
        class="rows-on-phone w-full border-collapse"
        role="table"
        :aria-label="label"
        :aria-rowcount="rows.length + 1"
      >
        <thead role="rowgroup" :class="{ 'sticky top-0 z-10 bg-ground': isLong }">
          <tr role="row" class="border-b border-line-strong text-sm text-ink-soft">
            <th
              v-for="column in shown"
              :key="column.id"
              role="columnheader"
              scope="col"
              class="px-2 pb-1 align-bottom font-medium"
              :class="column.isNumeric ? 'text-right' : 'text-left'"
              :aria-sort="column.isDrawing || column.isUnsorted ? undefined : direction(column)"
            >
              <span v-if="column.isDrawing" class="sr-only">{{ column.header }}</span>
              <template v-else-if="column.isUnsorted">{{ column.header }}</template>
              <button v-else type="button" class="font-medium hover:text-ink" @click="turn(column)">
                {{ column.header
                }}<span v-if="direction(column) !== 'none'" aria-hidden="true" class="ml-1">{{
                  direction(column) === 'ascending' ? '↑' : '↓'
                }}</span>
              </button>
            </th>
          </tr>
        </thead>
        <tbody role="rowgroup">
          <tr v-if="drawn.above > 0" aria-hidden="true" :style="{ height: `${drawn.above}px` }" />
          <tr
            v-for="{ row, index } in drawn.rows"
            :key="rowKey(row)"
            :ref="measure"
            role="row"
            tabindex="-1"
            :data-index="index"
            :aria-rowindex="index + 2"
            class="border-b border-line hover:bg-neutral-soft"
            @keydown="move($event, index)"
          >
            <td
              v-for="column in shown"
              :key="column.id"
              role="cell"
              class="px-2 py-2"
              :class="[
                column.isNumeric ? 'text-right whitespace-nowrap' : 'text-left',
                { 'heading-on-phone': column.isHeading },
              ]"
              :data-label="column.isHeading || column.isDrawing ? undefined : column.header"
            >
              <slot :name="`cell-${column.id}`" :row="row" :index="index">{{
                column.isDrawing ? '' : cellText(column, row)
              }}</slot>
            </td>
          </tr>
          <tr v-if="drawn.below > 0" aria-hidden="true" :style="{ height: `${drawn.below}px` }" />
        </tbody>
      </table>
    </div>
  </div>
</template>
