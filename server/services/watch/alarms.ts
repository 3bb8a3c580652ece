import { and, desc, eq, gte, inArray, isNull, or, sql } from 'drizzle-orm'
import { DAY, MINUTE } from '../../../core/time/units'
import { alarmTurns, type OpenAlarm } from '../../../core/watch/alarmTurns'
import { alarmTitle, type WatchCheck, type WatchFinding } from '../../../core/watch/finding'
import type { AlarmInput, AlarmsQuery } from '../../../shared/watch/alarm'
import type { AlarmView } from '../../../shared/watch/replies'
import type { Database, Queries } from '../../database/connect'
import { alarm, experiment, person, site } from '../../database/schema'
import { announce } from '../../news/announce'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { tell } from '../notifications/tell'

/** A cause that was not found for so long is over. */
const QUIET = 60 * MINUTE
const LATELY_DAYS = 90

/**
 * Opens what is new and closes what is over, of a site and of its experiments.
 *
 * @param isLate - numbers wait to be counted: what is not found may still be so, and nothing closes
 */
export async function settleAlarms(
  database: Database,
  siteId: number,
  found: ReadonlyMap<number | null, readonly WatchFinding[]>,
  now: Date,
  isLate: boolean,
): Promise<void> {
  await database.transaction(async (tx) => {
    const open = await tx
      .select()
      .from(alarm)
      .where(and(eq(alarm.siteId, siteId), isNull(alarm.closedAt)))
      .for('update')
    let isNews = false
    const ofAll = new Set([...open.map(({ experimentId }) => experimentId), ...found.keys()])
    for (const experimentId of ofAll) {
      const own = open.filter((each) => each.experimentId === experimentId).map(openAlarm)
      const { opened, goOn, closed } = alarmTurns(
        own,
        found.get(experimentId) ?? [],
        now.getTime(),
        isLate ? Infinity : QUIET,
      )
      isNews ||= opened.length + closed.length > 0
      for (const each of opened) await openOne(tx, siteId, experimentId, each, now)
      for (const { id, text } of goOn)
        await tx
          .update(alarm)
          .set({ text, lastSeenAt: now })
          .where(and(eq(alarm.siteId, siteId), eq(alarm.id, id)))
      if (closed.length > 0)
        await tx
          .update(alarm)
          .set({ closedAt: now })
          .where(and(eq(alarm.siteId, siteId), inArray(alarm.id, closed)))
    }
    if (isNews) await announce(tx, siteId, { kind: 'alarms' })
  })
}

async function openOne(
  tx: Queries,
  siteId: number,
  experimentId: number | null,
  { check, cause, text }: WatchFinding,
  now: Date,
): Promise<void> {
  const [opened] = await tx
    .insert(alarm)
    .values({ siteId, experimentId, check, cause, text, openedAt: now, lastSeenAt: now })
    .onConflictDoNothing()
    .returning({ id: alarm.id })
  if (opened)
    await tell(tx, {
      siteId,
      experimentId,
      kind: 'alarm',
      cause: `alarm ${opened.id}`,
      title: await nameOf(tx, siteId, experimentId),
      text: `${alarmTitle(check)}. ${text}`,
      path: experimentId === null ? '/alarms' : `/experiments/${experimentId}#alarms`,
      at: now,
    })
  if (experimentId === null) return
  await recordChange(tx, {
    siteId,
    personId: null,
    subject: 'experiment',
    subjectId: experimentId,
    action: 'alarmed',
    words: `alarm: ${text}`,
  })
}

/** What an alarm is of: an experiment, or the site. */
async function nameOf(tx: Queries, siteId: number, experimentId: number | null): Promise<string> {
  const [found] =
    experimentId === null
      ? await tx.select({ name: site.name }).from(site).where(eq(site.id, siteId))
      : await tx
          .select({ name: experiment.name })
          .from(experiment)
          .where(and(eq(experiment.siteId, siteId), eq(experiment.id, experimentId)))
  return found!.name
}

function openAlarm({ id, check, cause, text, lastSeenAt }: typeof alarm.$inferSelect): OpenAlarm {
  return { id, check, cause, text, lastSeenAt: lastSeenAt.getTime() }
}

/** Whether an experiment has had one alarm of a check, and no other before it. */
export async function isFirstAlarm(
  database: Queries,
  { siteId, id }: { siteId: number; id: number },
  check: WatchCheck,
): Promise<boolean> {
  const own = and(eq(alarm.siteId, siteId), eq(alarm.experimentId, id), eq(alarm.check, check))
  const rows = await database.select({ openedAt: alarm.openedAt, lastSeenAt: alarm.lastSeenAt }).from(alarm).where(own)
  return rows.length === 1 && rows[0]!.openedAt.getTime() === rows[0]!.lastSeenAt.getTime()
}

/** Alarms that are open, and those of the last ninety days, the latest first. */
export async function listAlarms(
  database: Queries,
  siteId: number,
  { experiment: experimentId, open }: AlarmsQuery,
  now: Date,
): Promise<AlarmView[]> {
  const rows = await database
    .select({ row: alarm, experimentName: experiment.name, by: person.name })
    .from(alarm)
    .leftJoin(experiment, and(eq(experiment.siteId, siteId), eq(experiment.id, alarm.experimentId)))
    .leftJoin(person, eq(person.id, alarm.acknowledgedBy))
    .where(
      and(
        eq(alarm.siteId, siteId),
        isNull(experiment.deletedAt),
        experimentId === undefined ? undefined : eq(alarm.experimentId, experimentId),
        open
          ? isNull(alarm.closedAt)
          : or(isNull(alarm.closedAt), gte(alarm.openedAt, new Date(now.getTime() - LATELY_DAYS * DAY))),
      ),
    )
    .orderBy(sql`closed_at IS NOT NULL`, desc(alarm.openedAt), desc(alarm.id))
    .limit(500)
  return rows.map(({ row, experimentName, by }) => ({
    id: row.id,
    experimentId: row.experimentId,
    experimentName,
    check: row.check,
    text: row.text,
    openedAt: row.openedAt.toISOString(),
    lastSeenAt: row.lastSeenAt.toISOString(),
    closedAt: row.closedAt?.toISOString() ?? null,
    acknowledged: row.acknowledgedAt ? { at: row.acknowledgedAt.toISOString(), by, word: row.word ?? '' } : null,
  }))
}

/**
 * Somebody has taken an alarm on, and says what they know.
 *
 * @throws HttpProblem 404 where the site has no such alarm
 */
export async function acknowledgeAlarm(
  database: Database,
  { siteId, alarmId, personId }: { siteId: number; alarmId: number; personId: number | null },
  { word }: AlarmInput,
  now: Date,
): Promise<void> {
  await database.transaction(async (tx) => {
    const [row] = await tx
      .update(alarm)
      .set({ acknowledgedAt: now, acknowledgedBy: personId, word })
      .where(and(eq(alarm.siteId, siteId), eq(alarm.id, alarmId)))
      .returning()
    if (!row) throw new HttpProblem(404, 'There is no such alarm.')
    await announce(tx, siteId, { kind: 'alarms' })
    if (row.experimentId === null) return
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'experiment',
      subjectId: row.experimentId,
      action: 'acknowledged',
      words: `acknowledged an alarm: ${word}`,
    })
  })
}
