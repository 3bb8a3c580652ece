import { readPage } from '../evidence/filter'
import { hypothesisSchema, STAGES } from './hypothesis'
import { array, boolean, mixed, object, string, ValidationError, type InferType } from '../yup'

/**
 * Hypotheses as rows of a table: which column says what, and what a row stands for. What is exported is read again as
 * it was.
 */

/** What a column may say, with its heading in what is exported, and others by which it is known. */
export const IMPORT_FIELDS = [
  { field: 'title', label: 'Title', known: ['hypothesis', 'idea', 'name', 'summary'] },
  { field: 'change', label: 'Change', known: ['we expect that', 'what', 'solution', 'description'] },
  { field: 'reason', label: 'Reason', known: ['because', 'why', 'rationale'] },
  { field: 'statement', label: 'Statement', known: [] },
  { field: 'pages', label: 'Pages', known: ['page', 'address', 'url', 'where'] },
  { field: 'audience', label: 'Audience', known: ['segment', 'for'] },
  { field: 'metric', label: 'Metric', known: ['goal', 'measure', 'kpi'] },
  { field: 'direction', label: 'Direction', known: [] },
  { field: 'low', label: 'Low lift %', known: ['low', 'low lift'] },
  { field: 'likely', label: 'Likely lift %', known: ['likely', 'likely lift', 'lift', 'expected lift'] },
  { field: 'high', label: 'High lift %', known: ['high', 'high lift'] },
  { field: 'effortDays', label: 'Effort days', known: ['effort', 'days', 'cost'] },
  { field: 'strength', label: 'Evidence', known: ['strength', 'confidence'] },
  { field: 'tags', label: 'Tags', known: ['labels', 'keywords'] },
  { field: 'owner', label: 'Owner', known: ['person', 'assignee', 'responsible'] },
  { field: 'stage', label: 'Stage', known: ['state', 'status'] },
] as const
export type ImportField = (typeof IMPORT_FIELDS)[number]['field']
/** The column of each field by its number; null for none. */
export type Mapping = Record<ImportField, number | null>

/** A hypothesis of a table, which may be at a stage already. */
export const importedSchema = hypothesisSchema.shape({
  stage: string()
    .oneOf(STAGES, `Stages are ${STAGES.join(', ')}.`)
    .default('new'),
})
export type Imported = InferType<typeof importedSchema>

/** Which columns say what, by their headings. Each is taken once. */
export function guessMapping(headings: readonly string[]): Mapping {
  const plain = (text: string) =>
    text
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, ' ')
      .trim()
  const left = headings.map(plain)
  const mapping = Object.fromEntries(IMPORT_FIELDS.map(({ field }) => [field, null])) as Mapping
  const take = (field: ImportField, names: readonly string[]) => {
    const at = left.findIndex((heading) => heading !== '' && names.some((name) => plain(name) === heading))
    if (at === -1 || mapping[field] !== null) return
    mapping[field] = at
    left[at] = ''
  }
  // A heading of our own comes before a word that means nearly the same.
  for (const { field, label } of IMPORT_FIELDS) take(field, [label, field])
  for (const { field, known } of IMPORT_FIELDS) take(field, known)
  return mapping
}

export interface KnownNames {
  metrics: readonly { id: string; name: string }[]
  people: readonly { id: number; name: string }[]
}

/** A row of a table as a hypothesis, or why it is none, in sentences. */
export type ReadRow = { input: Imported } | { problems: string[] }

/** Reads the cells of one row. Lifts are in percent, pages an address or a rule, tags separated by commas. */
export function readRow(cells: readonly string[], mapping: Mapping, known: KnownNames): ReadRow {
  const cell = (field: ImportField) => {
    const at = mapping[field]
    // An apostrophe keeps spreadsheets from taking a text for a formula.
    return at === null ? '' : (cells[at] ?? '').trim().replace(/^'(?=[-=+@])/, '')
  }
  const problems: string[] = []
  const byName = <Thing extends { name: string }>(list: readonly Thing[], field: ImportField, what: string) => {
    const name = cell(field)
    if (name === '') return null
    const found = list.find((each) => each.name.toLowerCase() === name.toLowerCase())
    if (!found) problems.push(`There is no ${what} “${name}”.`)
    return found ?? null
  }
  const percent = (field: ImportField) => {
    const text = cell(field).replace(/\s*%$/, '').replace(',', '.').replace('−', '-')
    if (text === '') return null
    return Number.isNaN(Number(text)) ? text : Number((Number(text) / 100).toFixed(8))
  }
  const fields = {
    title: cell('title'),
    change: cell('change'),
    reason: cell('reason'),
    statement: cell('statement') || null,
    pages: pagesOf(cell('pages')),
    audience: cell('audience') || null,
    metric: byName(known.metrics, 'metric', 'metric')?.id ?? null,
    direction: /^(down|lower|fall|decrease)/i.test(cell('direction')) ? 'down' : 'up',

    low: percent('low'),
    likely: percent('likely'),
    high: percent('high'),
    effortDays: cell('effortDays').replace(',', '.') || null,
    strength: cell('strength').toLowerCase() || 'fair',
    tags: cell('tags')
      .split(/[,;]/)
      .map((tag) => tag.trim())
      .filter(Boolean),
    owner: byName(known.people, 'owner', 'member')?.id ?? null,
    stage: cell('stage').toLowerCase() || 'new',
  }
  try {
    const input = importedSchema.validateSync(fields, { abortEarly: false })
    return problems.length > 0 ? { problems } : { input }
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error
    return { problems: [...problems, ...error.errors] }
  }
}

/** An address becomes a rule: /book is that page, /crossings/* all that begin so. A rule stays one. */
function pagesOf(text: string): string | null {
  if (text === '' || readPage(text)) return text || null
  if (text.startsWith('/')) return text.endsWith('*') ? `begins:${text.slice(0, -1)}` : `is:${text}`
  return `contains:${text}`
}

export const importSchema = object({
  /** Rows as `readRow` reads them. */
  rows: array(mixed().required())
    .min(1, 'There is nothing to import.')
    .max(2000, 'Import at most 2,000 rows at a time.')
    .required('Give the rows.'),
  /** Says what would come in, and keeps nothing. */
  isTrial: boolean().default(false),
  /** Whether ideas that are there already come in once more. */
  takesRepeated: boolean().default(false),
})
