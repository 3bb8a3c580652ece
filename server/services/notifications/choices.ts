import { and, eq, isNull, or, sql } from 'drizzle-orm'
import {
  OCCURRENCE_KINDS,
  wayOf,
  type OccurrenceKind,
  type Way,
  type WayChoice,
} from '../../../core/notifications/occurrence'
import { DEFAULT_TIMES } from '../../../core/notifications/letterTime'
import type { LetterTimesInput, WaysInput } from '../../../shared/notifications/notification'
import type { ExperimentWaysView, ToldChoicesView } from '../../../shared/notifications/replies'
import type { Database, Queries } from '../../database/connect'
import { changeLog, letterTimes, notificationChoice } from '../../database/schema'
import { HttpProblem } from '../HttpProblem'
import { findSheet } from '../experiments/sheet'
import { roleOnSite } from '../accounts/accounts'

/** What a person is told of everything, and when letters may come. */
export async function readToldChoices(database: Queries, personId: number): Promise<ToldChoicesView> {
  const chosen = await choicesOf(database, personId, null)
  const [times] = await database.select().from(letterTimes).where(eq(letterTimes.personId, personId))
  return {
    ways: OCCURRENCE_KINDS.map((kind) => ({ kind, way: chosen.find((each) => each.kind === kind)?.way ?? null })),
    times: {
      timeZone: times?.timeZone ?? null,
      quietFrom: times?.quietFrom ?? DEFAULT_TIMES.quietFrom,
      quietUntil: times?.quietUntil ?? DEFAULT_TIMES.quietUntil,
      morningAt: times?.morningAt ?? DEFAULT_TIMES.morningAt,
    },
  }
}

export async function changeToldChoices(
  database: Database,
  personId: number,
  { ways, times }: { ways: WaysInput; times?: LetterTimesInput },
): Promise<ToldChoicesView> {
  await database.transaction(async (tx) => {
    await saveWays(tx, personId, null, ways)
    if (times)
      await tx
        .insert(letterTimes)
        .values({ personId, ...times })
        .onConflictDoUpdate({ target: letterTimes.personId, set: times })
  })
  return readToldChoices(database, personId)
}

export interface OfExperiment {
  siteId: number
  experimentId: number
  personId: number | null
}

/** What a person is told of one experiment: what they chose for it, and what holds otherwise. */
export async function readExperimentWays(
  database: Queries,
  { siteId, experimentId, personId }: OfExperiment,
): Promise<ExperimentWaysView> {
  await findSheet(database, siteId, experimentId)
  if (personId === null) return []
  const choices = await choicesOf(database, personId, { siteId, experimentId })
  const isOwner = (await roleOnSite(database, personId, siteId)) === 'owner'
  const isOwn = await hasStarted(database, { siteId, experimentId, personId })
  const general = choices.filter((each) => each.experimentId === null)
  return KINDS_OF_EXPERIMENTS.map((kind) => ({
    kind,
    way: choices.find((each) => each.kind === kind && each.experimentId !== null)?.way ?? null,
    otherwise: wayOf({ kind, experimentId, isOwn, isOwner }, general),
  }))
}

export async function changeExperimentWays(
  database: Database,
  of: OfExperiment,
  { ways }: { ways: WaysInput },
): Promise<ExperimentWaysView> {
  const { siteId, experimentId, personId } = of
  await findSheet(database, siteId, experimentId)
  if (personId === null) throw new HttpProblem(403, 'This is for people, not for programs.')
  await database.transaction((tx) => saveWays(tx, personId, { siteId, experimentId }, ways))
  return readExperimentWays(database, of)
}

const KINDS_OF_EXPERIMENTS = OCCURRENCE_KINDS.filter((kind) => kind !== 'webhook')

type Place = Pick<OfExperiment, 'siteId' | 'experimentId'> | null

/** Choices for everything, and those for an experiment where one is named. */
async function choicesOf(database: Queries, personId: number, of: Place): Promise<WayChoice[]> {
  const { experimentId, kind, way, siteId } = notificationChoice
  const forAll = isNull(experimentId)
  return database
    .select({ experimentId, kind, way })
    .from(notificationChoice)
    .where(
      and(
        eq(notificationChoice.personId, personId),
        of === null ? forAll : or(forAll, and(eq(siteId, of.siteId), eq(experimentId, of.experimentId))),
      ),
    )
}

/** Saves what is chosen; null takes a choice back. */
export async function saveWays(tx: Queries, personId: number, of: Place, ways: WaysInput): Promise<void> {
  for (const { kind, way } of ways) await saveWay(tx, personId, of, kind, way)
}

async function saveWay(tx: Queries, personId: number, of: Place, kind: OccurrenceKind, way: Way | null): Promise<void> {
  const { siteId, experimentId } = of ?? { siteId: null, experimentId: null }
  const same = and(
    eq(notificationChoice.personId, personId),
    eq(notificationChoice.kind, kind),
    experimentId === null
      ? isNull(notificationChoice.experimentId)
      : and(eq(notificationChoice.siteId, siteId), eq(notificationChoice.experimentId, experimentId)),
  )
  await tx.delete(notificationChoice).where(same)
  if (way !== null)
    await tx.insert(notificationChoice).values({ personId, siteId, experimentId, kind, way }).onConflictDoNothing()
}

async function hasStarted(
  database: Queries,
  { siteId, experimentId, personId }: { siteId: number; experimentId: number; personId: number },
): Promise<boolean> {
  const own = and(
    eq(changeLog.siteId, siteId),
    eq(changeLog.subject, 'experiment'),
    eq(changeLog.subjectId, experimentId),
    eq(changeLog.personId, personId),
    sql`${changeLog.action} IN ('started', 'scheduled')`,
  )
  return (await database.select({ id: changeLog.id }).from(changeLog).where(own).limit(1)).length > 0
}
