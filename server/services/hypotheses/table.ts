import type { HypothesesView, HypothesisSummary, ImportReport } from '../../../shared/hypotheses/replies'
import { and, eq, isNull } from 'drizzle-orm'
import { ValidationError } from 'yup'
import { repeatedIdeas } from '../../../core/hypotheses/sameIdea'
import { importedSchema, type Imported } from '../../../shared/hypotheses/hypothesisTable'
import type { Database, Queries } from '../../database/connect'
import { hypothesis } from '../../database/schema'
import type { TableRow } from '../../http/sendTable'
import { HttpProblem } from '../HttpProblem'
import { addHypothesis, checkInput } from './hypotheses'
import type { Target } from './lockHypothesis'

/**
 * Imports rows, each by itself: those that are refused are named, the others are kept.
 *
 * @param options - `isTrial` only says what would come in; `takesRepeated` takes ideas that are there already as well
 */
export async function importHypotheses(
  database: Database,
  { siteId, personId }: Pick<Target, 'siteId' | 'personId'>,
  rows: readonly unknown[],
  { isTrial = false, takesRepeated = false }: { isTrial?: boolean; takesRepeated?: boolean } = {},
): Promise<ImportReport> {
  const refused: ImportReport['refused'] = []
  const check = checkedOnce(database, siteId)
  const good: (Imported | null)[] = []
  for (const [index, row] of rows.entries()) {
    try {
      const input = importedSchema.validateSync(row, { stripUnknown: true })
      await check(input)
      good.push(input)
    } catch (error) {
      if (!(error instanceof ValidationError) && !(error instanceof HttpProblem)) throw error
      good.push(null)
      refused.push({ row: index, message: error.message })
    }
  }
  const repeated = repeatedIdeas(good, await knownIdeas(database, siteId))
  const left = new Set(takesRepeated ? [] : repeated.map(({ row }) => row))
  const wanted = good.filter((input, row): input is Imported => input !== null && !left.has(row))
  if (!isTrial) for (const input of wanted) await addImported(database, { siteId, personId }, input)
  return { imported: wanted.length, refused, repeated }
}

async function addImported(
  database: Database,
  { siteId, personId }: Pick<Target, 'siteId' | 'personId'>,
  { stage, ...input }: Imported,
): Promise<void> {
  const id = await addHypothesis(database, { siteId, personId }, input)
  if (stage === 'new') return
  await database
    .update(hypothesis)
    .set({ stage })
    .where(and(eq(hypothesis.siteId, siteId), eq(hypothesis.id, id)))
}

/** Asks the site once for each metric and each person that rows name. */
function checkedOnce(database: Queries, siteId: number): (input: Imported) => Promise<void> {
  const asked = new Map<string, Promise<void>>()
  return (input) => {
    const key = JSON.stringify([input.metric, input.owner, input.findings])
    const answer = asked.get(key) ?? checkInput(database, siteId, input)
    asked.set(key, answer)
    return answer
  }
}

function knownIdeas(database: Queries, siteId: number) {
  return database
    .select({
      title: hypothesis.title,
      pages: hypothesis.pages,
      audience: hypothesis.audience,
      metric: hypothesis.metricId,
    })
    .from(hypothesis)
    .where(and(eq(hypothesis.siteId, siteId), isNull(hypothesis.deletedAt)))
}

/** Everything that hypotheses say, in the order of the list, with what was computed. Headings are those of an import. */
export async function hypothesesTable(
  database: Queries,
  siteId: number,
  { hypotheses, metrics }: HypothesesView,
): Promise<TableRow[]> {
  const said = await database
    .select({
      id: hypothesis.id,
      change: hypothesis.change,
      reason: hypothesis.reason,
      statement: hypothesis.statement,
    })
    .from(hypothesis)
    .where(eq(hypothesis.siteId, siteId))
  const words = new Map(said.map((each) => [each.id, each]))
  const names = new Map(metrics.map(({ id, name }) => [id, name]))
  return hypotheses.map((each) => ({
    Place: each.place,
    Title: each.title,
    ...wordsOf(words.get(each.id)),

    Pages: each.pages,
    Audience: each.audience,
    Metric: names.get(each.metric ?? '') ?? null,

    Direction: each.direction,
    'Low lift %': percent(each.low),
    'Likely lift %': percent(each.likely),

    'High lift %': percent(each.high),
    'Effort days': each.effortDays,
    Evidence: each.strength,

    Tags: each.tags.join(', '),
    Owner: each.owner?.name ?? null,
    Stage: each.stage,
    ...computedOf(each),
  }))
}

function wordsOf(said: { change: string; reason: string; statement: string | null } | undefined): TableRow {
  return { Change: said?.change ?? '', Reason: said?.reason ?? '', Statement: said?.statement ?? null }
}

function computedOf({ assessment, score, computed, handReason, experiment }: HypothesisSummary): TableRow {
  const { figures, worth, cost } = assessment ?? {}
  return {
    'Computed place': computed,
    'Moved because': handReason,
    'Visitors a week': figures ? figures.visitors / 4 : null,
    'Metric now': figures?.mean ?? null,
    'Gain a month in units': worth?.gain.expected ?? null,
    'Gain a month': worth?.money?.expected ?? null,
    'Low gain': worth?.money?.low ?? null,
    'High gain': worth?.money?.high ?? null,
    'Worth the effort %': percent(worth?.chance ?? null),
    'Gain a month for a day': worth?.moneyADay ?? null,
    'Weeks to learn': cost?.weeks ?? null,
    'Lift seen in four weeks %': percent(cost?.visibleLift ?? null),
    'Own score': score,
    Experiment: experiment?.name ?? null,
  }
}

function percent(share: number | null): number | null {
  return share === null ? null : Number((share * 100).toFixed(6))
}
