<script setup lang="ts">
import type { ServedView } from '~~/shared/rollouts/replies'
import { matchesPage } from '~~/core/targeting/pageRule'
import type { PageRow, PagesView } from '~~/shared/evidence/replies'
import { durationInWords } from '~/data/durations'
import type { TableColumn } from '~/data/tableColumn'

/** Figures of every page, each beside those that they are compared with. */
const props = defineProps<{
  siteId: number
  report: PagesView
  /** Figures of the same pages that they are compared with: of as many days before, where nothing else is chosen. */
  other: PagesView | null
  /** Name of the metric that counts as a conversion. */
  metric: string | null
  /** What is served on pages, in its order. */
  served: readonly ServedView[]
}>()
const sort = defineModel<string>('sort', { default: '' })
const route = useRoute()
const words = ref('')
const shown = computed(() =>
  props.report.pages.filter(({ page }) => page.toLowerCase().includes(words.value.trim().toLowerCase())),
)
type Figures = Omit<PageRow, 'before' | 'page' | 'days'>
const others = computed(() => new Map(props.other?.pages.map((row) => [row.page, row])))
const otherOf = (row: PageRow): Figures | null => (props.other ? (others.value.get(row.page) ?? null) : row.before)
const share = (part: number, whole: number) => (whole === 0 ? null : part / whole)
const FIGURES = {
  visitors: (row: Figures) => row.visitors,
  views: (row: Figures) => row.views,
  entries: (row: Figures) => row.entries,
  bounces: (row: Figures) => share(row.bounces, row.entries),
  exits: (row: Figures) => share(row.exits, row.sessions),
  time: (row: Figures) => share(row.seen, row.told),
  errors: (row: Figures) => row.errors,
  conversion: (row: Figures) => share(row.conversions, row.sessions),
  converters: (row: Figures) => share(row.converters, row.visitors),
}
type Figure = keyof typeof FIGURES
const show: Record<Figure, (value: number | null) => string> = {
  visitors: (value) => formatCount(value!),
  views: (value) => formatCount(value!),
  entries: (value) => formatCount(value!),
  bounces: (value) => formatShare(value, 1),
  exits: (value) => formatShare(value, 1),
  time: durationInWords,
  errors: (value) => formatCount(value!),
  conversion: (value) => formatShare(value, 1),
  converters: (value) => formatShare(value, 1),
}
const column = (id: Figure, header: string, isExtra = false): TableColumn<PageRow> => ({
  id,
  header,
  isNumeric: true,
  isExtra,
  value: (row) => FIGURES[id](row),
  show: (row) => show[id](FIGURES[id](row)),
})
const columns = computed<TableColumn<PageRow>[]>(() => [
  { id: 'page', header: 'Page', value: ({ page }) => page, isHeading: true },
  column('visitors', 'Visitors'),
  column('views', 'Views', true),
  column('entries', 'Entries'),
  column('bounces', 'Bounce rate'),
  column('exits', 'Exit rate'),
  column('time', 'Time in view'),
  column('errors', 'Errors'),
  ...(props.metric
    ? [column('conversion', `${props.metric} after it`), column('converters', `${props.metric}: visitors`, true)]
    : []),
  ...(props.served.length > 0
    ? [
        {
          id: 'served',
          header: 'Served',
          value: (row: PageRow) =>
            servedOn(row)
              .map(({ name }) => name)
              .join('; '),
        } satisfies TableColumn<PageRow>,
      ]
    : []),
  { id: 'trend', header: 'Trend', value: () => null, isDrawing: true },
])
const changed: Figure[] = [
  'visitors',
  'views',
  'entries',
  'bounces',
  'exits',
  'time',
  'errors',
  'conversion',
  'converters',
]
const SHARES: readonly Figure[] = ['bounces', 'exits', 'conversion', 'converters']
const isShare = (id: Figure) => SHARES.includes(id)
/** Pages of the site are named without its host. */
const servedOn = ({ page }: PageRow) =>
  props.served.filter(({ rules }) =>
    matchesPage(rules, page.startsWith('/') ? `https://site.invalid${page}` : `https://${page}`),
  )
const servedPath = ({ kind, id }: ServedView) =>
  `/sites/${props.siteId}/${kind === 'rollout' ? 'rollouts' : 'experiments'}/${id}`
const place = (page: string) => ({
  path: `/sites/${props.siteId}/evidence/page`,
  query: { ...route.query, sort: undefined, of: page },
})
</script>

<template>
  <DataTable v-model:sort="sort" label="Pages" :columns="columns" :rows="shown" :row-key="({ page }) => page">
    <template #actions>
      <input
        v-model="words"
        type="search"
        class="field mr-auto max-w-64"
        placeholder="Find a page"
        aria-label="Find a page"
      />
    </template>
    <template #cell-page="{ row }">
      <NuxtLink :to="place(row.page)" class="font-medium break-all text-accent hover:underline">{{
        row.page
      }}</NuxtLink>
    </template>
    <template v-for="id in changed" #[`cell-${id}`]="{ row }" :key="id">
      <ChangedNumber
        :text="show[id](FIGURES[id](row))"
        :value="FIGURES[id](row)"
        :other="otherOf(row) && FIGURES[id](otherOf(row)!)"
        :is-share="isShare(id)"
      />
    </template>
    <template #cell-served="{ row }">
      <span v-for="thing in servedOn(row)" :key="thing.id" class="block text-sm">
        <NuxtLink :to="servedPath(thing)" class="hover:underline">{{ thing.name }}</NuxtLink>
      </span>
    </template>
    <template #cell-trend="{ row }">
      <SparkLine :values="row.days" :label="`Sessions a day with ${row.page}`" />
    </template>
  </DataTable>
</template>
