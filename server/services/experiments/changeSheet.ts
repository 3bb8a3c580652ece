import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { and, eq } from 'drizzle-orm'
import { ValidationError } from 'yup'
import { ChangeRefused, partsOf, type SheetChange } from '../../../core/sheet/change'
import type { SheetContent, SheetMetric, SheetPageRule, SheetPart, SheetVariant } from '../../../core/sheet/content'
import { describeChange } from '../../../core/sheet/describeChange'
import { isSame } from '../../../core/sheet/isSame'
import { contentOf } from '../../../shared/experiments/experiment'
import { prepareChange } from '../../../shared/experiments/sheetChange'
import { drawThingId } from '../../../shared/thingId'
import type { Database, Queries } from '../../database/connect'
import { changeLog, experiment } from '../../database/schema'
import { announce } from '../../news/announce'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { compileEnvironments, compileSiteFile } from '../sites/compileSiteFile'
import { findSite } from '../sites/sites'
import { findGroup, reserveBuckets } from '../traffic/groups'
import { findSheet, lockSheet, type Target } from './sheet'
import { saveMetrics } from './sheetMetrics'
import { saveVariants } from './variants'

const FROZEN =
  'Variants, page, metrics and plan are frozen since the start, so that the result can be trusted. End this experiment and make a copy to change them.'

/** What may still be changed once visitors have been assigned. */
const CHANGEABLE_AFTER_START: readonly SheetPart[] = ['name', 'hypothesis', 'share']

/**
 * Makes a change on a sheet, and writes it into the change log.
 *
 * A change that was made already, by its id, is not made again. Refused when the sheet is not any more what the change
 * was made from, and for parts that the start has frozen.
 */
export async function changeSheet(
  database: Database,
  target: Target,
  { id, change }: { id: string; change: SheetChange },
): Promise<ExperimentSheet> {
  return database.transaction(async (tx) => {
    const before = await lockSheet(tx, target)
    if (await isMade(tx, target, id)) return before
    return makeChange(tx, target, before, id, change)
  })
}

/** Parts of a sheet whose things may be new: without ids. */
export type SheetParts = Partial<
  Omit<SheetContent, 'pageRules' | 'variants' | 'metrics'> & {
    pageRules: WithoutId<SheetPageRule>[]
    variants: WithoutId<SheetVariant>[]
    metrics: WithoutId<SheetMetric>[]
  }
>
type WithoutId<Thing extends { id: string }> = Omit<Thing, 'id'> & { id?: string }

/** Writes parts of a sheet as a whole, on top of whatever it is at the moment. */
export async function fillSheet(database: Database, target: Target, parts: SheetParts): Promise<ExperimentSheet> {
  return database.transaction((tx) => fillSheetIn(tx, target, parts))
}

/** The same, within what else is done at once. */
export async function fillSheetIn(tx: Queries, target: Target, parts: SheetParts): Promise<ExperimentSheet> {
  const before = await lockSheet(tx, target)
  const content = contentOf(before)
  const from = Object.fromEntries(Object.keys(parts).map((part) => [part, content[part as SheetPart]]))
  const to = Object.fromEntries(
    Object.entries(parts).map(([part, value]) => [part, Array.isArray(value) ? value.map(withId) : value]),
  )
  return makeChange(tx, target, before, null, { do: 'replace', from, to })
}

function withId<Thing extends { id?: string }>(thing: Thing): Thing & { id: string } {
  return { ...thing, id: thing.id ?? drawThingId() }
}

async function makeChange(
  tx: Queries,
  target: Target,
  before: ExperimentSheet,
  changeId: string | null,
  wanted: SheetChange,
): Promise<ExperimentSheet> {
  const content = contentOf(before)
  const { change, content: next, inverse } = prepared(content, wanted)
  const touched = partsOf(change).filter((part) => !isSame(content[part], next[part]))
  if (touched.length === 0 && changeId === null) return before
  checkFrozen(before, touched, next)
  if (touched.includes('variants') || touched.includes('factors')) await checkScripts(tx, target.siteId, content, next)

  if (touched.includes('terms') && next.terms.group !== null) await findGroup(tx, target.siteId, next.terms.group)
  if (touched.includes('share') && before.state !== 'draft') await reserveBuckets(tx, before, next.share)

  const { siteId, experimentId, personId } = target
  const { name, hypothesis, pageRules, audience, share, terms, plan } = next
  const combinationsOff = next.combinationsOff.map((off) => off.id)
  await tx
    .update(experiment)
    .set({ name, hypothesis, pageRules, audience, share, terms, plan, combinationsOff, version: before.version + 1 })
    .where(and(eq(experiment.siteId, siteId), eq(experiment.id, experimentId)))
  if (touched.includes('variants') || touched.includes('factors')) await saveVariants(tx, siteId, experimentId, next)
  if (touched.includes('metrics')) await saveMetrics(tx, before, next.metrics)
  await recordChange(tx, {
    siteId,
    personId,
    subject: 'experiment',
    subjectId: experimentId,
    action: 'changed',

    changeId,
    change,
    inverse,
    words: describeChange(content, change),
  })
  if (before.state === 'running') await compileSiteFile(tx, siteId)
  else await compileEnvironments(tx, siteId, experimentId)
  await announce(tx, siteId, { kind: 'sheet', experiment: experimentId, version: before.version + 1 })
  return findSheet(tx, siteId, experimentId)
}

/** Where an owner has forbidden scripts, none is added or written anew; those that are there may be taken out. */
async function checkScripts(tx: Queries, siteId: number, before: SheetContent, after: SheetContent): Promise<void> {
  const scriptsOf = ({ factors, variants }: SheetContent) =>
    [...factors.flatMap(({ levels }) => levels), ...variants].flatMap(({ edits }) =>
      edits.flatMap((edit) => (edit.kind === 'script' ? [edit.value] : [])),
    )
  const known = new Set(scriptsOf(before))
  if (scriptsOf(after).every((script) => known.has(script))) return
  const { allowsScripts } = await findSite(tx, siteId)
  if (!allowsScripts) throw new HttpProblem(422, 'An owner of the site has forbidden scripts in variants.')
}

function prepared(content: SheetContent, change: SheetChange) {
  try {
    return prepareChange(content, change)
  } catch (error) {
    if (error instanceof ChangeRefused) throw new HttpProblem(409, error.message)
    if (!(error instanceof ValidationError)) throw error
    const all = error.inner.length > 0 ? error.inner : [error]
    throw new HttpProblem(
      422,
      all[0]!.message,
      Object.fromEntries(all.map(({ path, message }) => [path ?? '', message])),
    )
  }
}

async function isMade(tx: Queries, { siteId, experimentId }: Target, changeId: string): Promise<boolean> {
  const [made] = await tx
    .select({ id: changeLog.id })
    .from(changeLog)
    .where(
      and(
        eq(changeLog.siteId, siteId),
        eq(changeLog.subject, 'experiment'),
        eq(changeLog.subjectId, experimentId),
        eq(changeLog.changeId, changeId),
      ),
    )
  return made !== undefined
}

function checkFrozen(before: ExperimentSheet, touched: readonly SheetPart[], next: SheetContent): void {
  if (before.state === 'draft') return
  if (touched.some((part) => !CHANGEABLE_AFTER_START.includes(part))) throw new HttpProblem(409, FROZEN)
  if (!touched.includes('share')) return
  if (before.state === 'ended')
    throw new HttpProblem(409, 'This experiment has ended, so its traffic share cannot change.')
  if (next.share < before.share) {
    throw new HttpProblem(
      409,
      'The traffic share of a started experiment can only be raised: lowering it would take visitors out of the test. Pause it instead.',
      { share: 'Only a larger share is possible now.' },
    )
  }
}
