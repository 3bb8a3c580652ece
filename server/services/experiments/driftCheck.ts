import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { and, eq, inArray, isNotNull, isNull, lt, or } from 'drizzle-orm'
import { toldDrift } from '../../../core/drift/toldDrift'
import { isOfElement } from '../../../core/edits/content'
import { describeElement } from '../../../core/edits/element'
import type { Database, Queries } from '../../database/connect'
import { driftCheck, experiment } from '../../database/schema'
import { lookAtPages, pausingReason, unansweredKey } from '../drift/lookAtPages'
import { toldElements } from '../drift/toldElements'
import { moveExperiment } from './experiments'
import { findSheet } from './sheet'
import type { TryPage } from './triedPages'

const EVERY = 60 * 60 * 1000

/** Running experiments whose pages have not been looked at for an hour. */
export async function dueForDriftCheck(
  database: Queries,
  now: Date,
): Promise<{ siteId: number; experimentId: number }[]> {
  return database
    .select({ siteId: experiment.siteId, experimentId: experiment.id })
    .from(experiment)
    .leftJoin(driftCheck, and(eq(driftCheck.siteId, experiment.siteId), eq(driftCheck.experimentId, experiment.id)))
    .where(
      and(
        eq(experiment.state, 'running'),
        isNull(experiment.deletedAt),
        or(isNull(driftCheck.checkedAt), lt(driftCheck.checkedAt, new Date(now.getTime() - EVERY))),
      ),
    )
}

/**
 * Looks at the pages of a running experiment as they are served. What they say of its edits at the first look is known;
 * what comes later is drift: the variant shows something else than it was built for, or nothing.
 */
export async function checkDrift(
  database: Database,
  { siteId, experimentId }: { siteId: number; experimentId: number },
  now: Date,
  tryPage: TryPage,
): Promise<void> {
  const sheet = await findSheet(database, siteId, experimentId)
  const [before] = await database
    .select()
    .from(driftCheck)
    .where(and(eq(driftCheck.siteId, siteId), eq(driftCheck.experimentId, experimentId)))
  const told = toldDrift(await toldElements(database, siteId, experimentId, now), elementsInWords(sheet))
  const { looked, targets } = await lookAtPages(database, sheet, { before, told }, now, tryPage)
  const { withLine, drift, since } = looked
  await database
    .insert(driftCheck)
    .values({ siteId, experimentId, checkedAt: now, ...looked })
    .onConflictDoUpdate({
      target: driftCheck.experimentId,
      set: { withLine, drift, since, checkedAt: now },
      setWhere: eq(driftCheck.siteId, siteId),
    })
  // What could not be reached from here at the start is still what visitors' browsers reach.
  const failing = targets.find((each) => each.problem !== null && !looked.atStart.includes(unansweredKey(each)))
  if (before && failing && sheet.state === 'running')
    await pauseBecause(database, { siteId, experimentId }, pausingReason(failing))
}

/** What each edit of a sheet is of, by its id. */
function elementsInWords({ variants }: ExperimentSheet): (edit: string) => string | undefined {
  const words = new Map(
    variants.flatMap(({ name, edits }) =>
      edits.filter(isOfElement).map((edit) => [edit.id, `${name}: ${describeElement(edit)}`] as const),
    ),
  )
  return (edit) => words.get(edit)
}

/** Pauses an experiment that must not go on until a person has looked at it. */
export async function pauseBecause(
  database: Database,
  of: { siteId: number; experimentId: number },
  reason: string,
): Promise<void> {
  await moveExperiment(database, { ...of, personId: null }, 'pause', { words: `paused itself: ${reason}` })
  await database
    .insert(driftCheck)
    .values({ ...of, pages: [], atStart: [], drift: [], checkedAt: new Date(0), pausedFor: reason })
    .onConflictDoUpdate({
      target: driftCheck.experimentId,
      set: { pausedFor: reason },
      setWhere: eq(driftCheck.siteId, of.siteId),
    })
}

/** Why experiments have paused themselves, by their ids. */
export async function pausedFor(database: Queries, siteId: number): Promise<Map<number, string>> {
  const rows = await database
    .select({ id: driftCheck.experimentId, reason: driftCheck.pausedFor })
    .from(driftCheck)
    .where(and(eq(driftCheck.siteId, siteId), isNotNull(driftCheck.pausedFor)))
  return new Map(rows.flatMap(({ id, reason }) => (reason === null ? [] : [[id, reason]])))
}

/** What pages of experiments say that they did not say at the start, by experiment. */
export async function driftOf(
  database: Queries,
  siteId: number,
  experimentIds: readonly number[],
): Promise<Map<number, string[]>> {
  if (experimentIds.length === 0) return new Map()
  const rows = await database
    .select({ id: driftCheck.experimentId, drift: driftCheck.drift })
    .from(driftCheck)
    .where(and(eq(driftCheck.siteId, siteId), inArray(driftCheck.experimentId, [...experimentIds])))
  return new Map(rows.map(({ id, drift }) => [id, drift]))
}
