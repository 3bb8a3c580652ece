<script setup lang="ts">
import type { ImportReport } from '~~/shared/hypotheses/replies'
import Papa from 'papaparse'
import { ideaPages } from '~/data/ideaWords'
import { saveFile } from '~/data/saveFile'
import { guessMapping, IMPORT_FIELDS, readRow, type Mapping } from '~~/shared/hypotheses/hypothesisTable'

useHead({ title: 'Import hypotheses · Vetch' })
const route = useRoute('sites-site-hypotheses-import')
const siteId = Number(route.params.site)
const notices = useNoticesStore()
const api = useApi()
const { value: view, problem, reload } = useLoaded(() => api('listHypotheses', { site: siteId }))

const LARGEST = 5 * 1024 * 1024
const MOST_SHOWN = 100
const text = ref('')
const fileProblem = ref<string>()
const table = computed(() => {
  if (text.value.trim() === '') return null
  const { data } = Papa.parse<string[]>(text.value.trim(), { skipEmptyLines: 'greedy' })
  const [headings = [], ...rows] = data
  return { headings, rows }
})
const mapping = ref<Mapping>(guessMapping([]))
watch(
  () => table.value?.headings.join('\n'),
  () => (mapping.value = guessMapping(table.value?.headings ?? [])),
)
async function readFile(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  fileProblem.value = file.size > LARGEST ? 'The file is larger than 5 MB. Import it in parts.' : undefined
  if (!fileProblem.value) text.value = await file.text()
}
/** A row keeps its number: the headings are the first. */
const rows = computed(() => {
  if (!table.value || !view.value) return []
  const known = { metrics: view.value.metrics, people: view.value.people }
  return table.value.rows.map((cells, index) => ({ line: index + 2, read: readRow(cells, mapping.value, known) }))
})
const good = computed(() =>
  rows.value.flatMap(({ line, read }) => ('input' in read ? [{ line, input: read.input }] : [])),
)
const bad = computed(() =>
  rows.value.flatMap(({ line, read }) => ('problems' in read ? [{ line, problems: read.problems }] : [])),
)
const columns = computed(() => [
  { value: '', label: '–' },
  ...(table.value?.headings ?? []).map((heading, index) => ({
    value: String(index),
    label: heading || `Column ${index + 1}`,
  })),
])
const takesRepeated = ref(false)
const { isSaving, save } = useSaving()
const { save: tryOut } = useSaving()
const send = (isTrial: boolean) => {
  const body = { rows: good.value.map(({ input }) => input), isTrial, takesRepeated: takesRepeated.value }
  return api('importHypotheses', { site: siteId, body })
}
/** What the site itself says of the rows, before anything is kept. */
const trial = shallowRef<ImportReport | null>(null)
watchDebounced(
  [good, takesRepeated],
  () =>
    tryOut(async () => {
      trial.value = null
      const asked = good.value
      const found = asked.length > 0 ? await send(true) : null
      if (asked === good.value) trial.value = found
    }),
  { debounce: 300 },
)
const lineOf = (row: number) => good.value[row]?.line
const submit = () =>
  save(async () => {
    const done = await send(false)
    notices.show(`Imported ${countOf(done.imported, 'hypothesis', 'hypotheses')}.`)
    await navigateTo(`/sites/${siteId}/hypotheses/list`)
  })
/** Rows that stay out, each with why. */
const out = computed(() => {
  const refused = trial.value?.refused.map(({ row, message }) => ({ line: lineOf(row)!, problems: [message] })) ?? []
  return [...bad.value, ...refused].sort((a, b) => a.line - b.line)
})
const repeated = computed(() =>
  (trial.value?.repeated ?? []).map(({ row, of }) =>
    of === null ? `Row ${lineOf(row)} is here already.` : `Row ${lineOf(row)} is the same idea as row ${lineOf(of)}.`,
  ),
)
const comingIn = computed(() => {
  const stayOut = new Set([
    ...(trial.value?.refused ?? []).map(({ row }) => row),
    ...(takesRepeated.value ? [] : (trial.value?.repeated ?? []).map(({ row }) => row)),
  ])
  return good.value.filter((_, row) => !stayOut.has(row))
})
const EXAMPLE = [
  ['Title', 'Change', 'Reason', 'Pages', 'Metric', 'Low lift %', 'Likely lift %', 'High lift %', 'Effort days', 'Tags'],
  ['Ask for sizes later', 'ask three sizes', 'people leave to measure', '/book', '', '1', '5', '9', '2', 'booking'],
]
const saveExample = () => saveFile('hypotheses.csv', Papa.unparse(EXAMPLE))
const metricName = (id: string | null) => view.value?.metrics.find((each) => each.id === id)?.name ?? '–'
</script>

<template>
  <div class="p-6 lg:p-8">
    <HypothesesHead :site-id="siteId" note="Choose the columns, check the preview, then import" />
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!view" />
    <div v-else class="flex max-w-5xl flex-col gap-6">
      <section aria-labelledby="table" class="flex flex-col gap-3">
        <h2 id="table">The table</h2>
        <LabeledField v-slot="{ id, invalid, describedBy }" label="CSV file" :error="fileProblem">
          <input
            :id="id"
            type="file"
            accept=".csv,.tsv,.txt,text/csv"
            :aria-invalid="invalid"
            :aria-describedby="describedBy"
            @change="readFile"
          />
        </LabeledField>
        <LabeledField v-slot="{ id }" label="Or paste it, headings first">
          <textarea :id="id" v-model="text" class="field font-mono text-xs" rows="5" />
        </LabeledField>
        <p class="max-w-[72ch] text-sm text-ink-soft">
          The first row holds the headings. Known are {{ IMPORT_FIELDS.map(({ label }) => label).join(', ') }}.
          <button type="button" class="text-accent underline" @click="saveExample">Save an example</button>
        </p>
      </section>
      <template v-if="table">
        <section aria-labelledby="mapping">
          <h2 id="mapping" class="mb-2">Columns</h2>
          <div class="grid gap-3 sm:grid-cols-3 lg:grid-cols-4">
            <ChoiceField
              v-for="{ field, label } in IMPORT_FIELDS"
              :key="field"
              :model-value="mapping[field] === null ? '' : String(mapping[field])"
              :label="label"
              :choices="columns"
              @update:model-value="mapping = { ...mapping, [field]: $event === '' ? null : Number($event) }"
            />
          </div>
        </section>
        <section aria-labelledby="preview" class="flex flex-col gap-3">
          <h2 id="preview">What comes in</h2>
          <p data-testid="counts">
            {{ formatCount(comingIn.length) }} of {{ countOf(rows.length, 'row') }}.
            <template v-if="out.length > 0">Fix the other rows in the table to import them.</template>
          </p>
          <ul v-if="out.length > 0" class="flex flex-col gap-1 border-l-4 border-rust py-1 pl-3 text-sm">
            <li v-for="each in out.slice(0, MOST_SHOWN)" :key="each.line">
              Row {{ each.line }}: {{ each.problems.join(' ') }}
            </li>
            <li v-if="out.length > MOST_SHOWN">and {{ formatCount(out.length - MOST_SHOWN) }} more</li>
          </ul>
          <div v-if="repeated.length > 0" class="border-l-4 border-line-strong py-1 pl-3 text-sm">
            <ul class="flex flex-col gap-1">
              <li v-for="each in repeated.slice(0, MOST_SHOWN)" :key="each">{{ each }}</li>
              <li v-if="repeated.length > MOST_SHOWN">and {{ formatCount(repeated.length - MOST_SHOWN) }} more</li>
            </ul>
            <label class="mt-1 flex items-center gap-2">
              <input v-model="takesRepeated" type="checkbox" class="accent-accent" /> Import them anyway
            </label>
          </div>
          <table
            v-if="comingIn.length > 0"
            class="rows-on-phone w-full border-collapse text-sm"
            aria-label="Rows that come in"
          >
            <thead>
              <tr class="border-b border-line-strong text-left text-ink-soft">
                <th scope="col" class="py-1 pr-3 font-medium">Row</th>
                <th scope="col" class="py-1 pr-3 font-medium">Title</th>
                <th scope="col" class="py-1 pr-3 font-medium">Pages</th>
                <th scope="col" class="py-1 pr-3 font-medium">Metric</th>
                <th scope="col" class="py-1 pr-3 font-medium">Likely lift</th>
                <th scope="col" class="py-1 pr-3 font-medium">Stage</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="{ line, input } in comingIn.slice(0, MOST_SHOWN)" :key="line" class="border-b border-line">
                <td class="py-1 pr-3">{{ line }}</td>
                <td class="py-1 pr-3">{{ input.title }}</td>
                <td class="py-1 pr-3">{{ ideaPages(input.pages) }}</td>
                <td class="py-1 pr-3">{{ metricName(input.metric) }}</td>
                <td class="py-1 pr-3">{{ input.likely === null ? '–' : formatLift(input.likely) }}</td>
                <td class="py-1 pr-3">{{ input.stage }}</td>
              </tr>
            </tbody>
          </table>
          <div>
            <BaseButton kind="main" :disabled="comingIn.length === 0 || isSaving || trial === null" @click="submit">{{
              isSaving ? 'Importing …' : `Import ${formatCount(comingIn.length)}`
            }}</BaseButton>
          </div>
        </section>
      </template>
    </div>
  </div>
</template>
