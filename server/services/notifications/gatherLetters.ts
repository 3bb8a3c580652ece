import { and, desc, eq, sql } from 'drizzle-orm'
import { BETWEEN_LETTERS } from '../../../core/notifications/letterTime'
import type { OccurrenceKind } from '../../../core/notifications/occurrence'
import { trackText, type TrackedLift } from '../../../core/notifications/trackText'
import { DAY } from '../../../core/time/units'
import { readPlannedLook } from '../../../core/verdict/plannedLooks'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { Database, Queries } from '../../database/connect'
import { letter, look } from '../../database/schema'
import { toldLetter } from '../../mail/toldLetter'
import { asMeasured } from '../../../core/sheet/wordings'
import { findSheets } from '../experiments/sheet'
import { groupBy } from '../groupBy'
import { latestLooks } from '../results/plannedLooks'
import { TIMES } from './letterTimes'

/** Of what lies longer back nobody is written to any more: it stands in the list. */
const LONGEST_AGO = 2 * DAY
const MOST_AT_ONCE = 100

/**
 * Writes a letter to each person whom something is due to be told: one about all of it, and none within ten minutes of
 * the one before.
 *
 * @param origin - where people reach Vetch
 */
export async function gatherLetters(database: Database, origin: string, now: Date): Promise<void> {
  const { rows } = await database.execute<{ person: number }>(sql`
    SELECT n.person_id AS person FROM notification n
    JOIN occurrence o ON o.site_id = n.site_id AND o.id = n.occurrence_id
    WHERE n.due_at <= ${now} AND n.letter_id IS NULL AND n.seen_at IS NULL AND o.happened_at > ${oldest(now)}
      AND NOT EXISTS (
        SELECT FROM letter l WHERE l.person_id = n.person_id AND l.created_at > ${new Date(now.getTime() - BETWEEN_LETTERS)})
    GROUP BY 1 ORDER BY min(n.due_at) LIMIT ${MOST_AT_ONCE}`)
  const failures: unknown[] = []
  // What one letter cannot tell keeps nobody else from theirs.
  for (const { person } of rows)
    await database
      .transaction((tx) => writeLetter(tx, person, origin, now))
      .catch((error: unknown) => failures.push(error))
  if (failures.length > 0) throw new AggregateError(failures, 'Not every letter could be written.')
}

const oldest = (now: Date) => new Date(now.getTime() - LONGEST_AGO)

interface DueThing {
  notification: number
  siteId: number
  siteName: string
  timeZone: string
  experimentId: number | null
  kind: OccurrenceKind
  title: string
  text: string
  path: string
  at: string
  by: string | null
}

async function writeLetter(tx: Queries, personId: number, origin: string, now: Date): Promise<void> {
  // Who is no member any more is told nothing; what somebody has seen meanwhile needs no letter.
  const { rows } = await tx.execute<DueThing & Record<string, unknown>>(sql`
    SELECT n.id AS notification, n.site_id AS "siteId", s.name AS "siteName", ${TIMES}, o.experiment_id AS "experimentId",
      o.kind, o.title, o.text, o.path, o.happened_at AS at, b.name AS by
    FROM notification n
    JOIN occurrence o ON o.site_id = n.site_id AND o.id = n.occurrence_id
    JOIN site s ON s.id = n.site_id
    JOIN membership m ON m.organisation_id = s.organisation_id AND m.person_id = n.person_id
    LEFT JOIN letter_times t ON t.person_id = n.person_id
    LEFT JOIN person b ON b.id = o.by_person
    WHERE n.person_id = ${personId} AND n.due_at <= ${now} AND n.letter_id IS NULL AND n.seen_at IS NULL
      AND o.happened_at > ${oldest(now)}
    ORDER BY n.site_id, o.happened_at, o.id
    FOR UPDATE OF n SKIP LOCKED`)
  if (rows.length === 0) return
  const tracks = await tracksOf(tx, rows)
  const things = rows.map((row) => ({
    ...row,
    at: new Date(row.at),
    track: (row.experimentId !== null && tracks.get(row.experimentId)) || '',
  }))
  const written = toldLetter(things, { origin, timeZone: rows[0]!.timeZone })
  const [made] = await tx
    .insert(letter)
    .values({ personId, ...written, createdAt: now, nextTryAt: now })
    .returning({ id: letter.id })
  const ids = sql.param(rows.map((row) => row.notification))
  const sites = sql.param([...new Set(rows.map(({ siteId }) => siteId))])
  await tx.execute(sql`
    UPDATE notification SET letter_id = ${made!.id}
    WHERE site_id = ANY(${sites}::int[]) AND person_id = ${personId} AND id = ANY(${ids}::int[])`)
}

/** The track of each experiment, drawn as text. */
async function tracksOf(tx: Queries, things: readonly DueThing[]): Promise<Map<number, string>> {
  const tracks = new Map<number, string>()
  for (const [siteId, own] of groupBy(things, (each) => each.siteId)) {
    const ids = [...new Set(own.flatMap(({ experimentId }) => experimentId ?? []))]
    for (const sheet of (await findSheets(tx, siteId, ids)).map(asMeasured))
      tracks.set(sheet.id, trackText(await latestLifts(tx, sheet), smallestLiftOf(sheet)))
  }
  return tracks
}

function smallestLiftOf({ plan, metrics }: ExperimentSheet): number {
  return metrics.find(({ role }) => role === 'primary')?.direction === 'down' ? -plan.smallestLift : plan.smallestLift
}

/** The lift of each variant on the primary metric at its latest look. */
async function latestLifts(tx: Queries, sheet: ExperimentSheet): Promise<TrackedLift[]> {
  const primary = sheet.metrics.find(({ role }) => role === 'primary')
  if (!primary) return []
  const planned = await latestLooks(tx, sheet)
  const rows = await tx
    .selectDistinctOn([look.variant])
    .from(look)
    .where(
      and(eq(look.siteId, sheet.siteId), eq(look.experimentId, sheet.id), eq(look.metricVersionId, primary.versionId)),
    )
    .orderBy(look.variant, desc(look.day))
  return rows.map(({ variant, lift, low, high }) => {
    const ofPlan = planned.get(variant)
    const read = ofPlan ? readPlannedLook(ofPlan).lift : null
    return {
      name: sheet.variants[variant]?.name ?? `Variant ${variant}`,
      estimate: read?.estimate ?? lift,
      interval: read ? read.interval : low === null || high === null ? null : [low, high],
    }
  })
}
