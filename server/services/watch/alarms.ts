import { and, desc, eq, gte, inArray, isNull, or, sql } from 'drizzle-orm'
import { DAY, MINUTE } from '../../../core/time/units'
import { alarmTurns, type OpenAlarm } from '../../../core/watch/alarmTurns'
import { alarmTitle, type WatchCheck, type WatchFinding } from '../../../core/watch/finding'
import type { AlarmInput, AlarmsQuery } from '../../../shared/watch/alarm'
import type { AlarmView } from '../../../shared/watch/replies'
import type { Database, Queries } from '../../database/connect'
import { alarm, experiment, person, rollout, site } from '../../database/schema'
import { announce } from '../../news/announce'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { tell } from '../notifications/tell'

/** A cause that was not found for so long is over. */
const QUIET = 60 * MINUTE
const LATELY_DAYS = 90

/** What an alarm is of: an experiment, a rollout, or the site itself where it is neither. */
export interface AlarmSubject {
  experimentId: number | null
  rolloutId: number | null
}

/** What was found of one subject: nothing, where it was looked at and is sound. */
export interface FoundOf {
  subject: AlarmSubject
  findings: readonly WatchFinding[]
}

/** Numbers of experiments and rollouts are drawn together. */
const numberOf = ({ experimentId, rolloutId }: AlarmSubject) => experimentId ?? rolloutId ?? 0

/**
 * Opens what is new and closes what is over, of a site, its experiments and its rollouts.
 *
 * @param found - what was not looked at is not found any more
 * @param isLate - numbers wait to be counted: what is not found may still be so, and nothing closes
 */
export async function settleAlarms(
  database: Database,
  siteId: number,
  found: readonly FoundOf[],
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
    const findings = new Map(found.map((each) => [numberOf(each.subject), each.findings]))
    const subjects = new Map([...open, ...found.map(({ subject }) => subject)].map((each) => [numberOf(each), each]))
    for (const [number, subject] of subjects) {
      const own = open.filter((each) => numberOf(each) === number).map(openAlarm)
      const { opened, goOn, closed } = alarmTurns(
        own,
        findings.get(number) ?? [],
        now.getTime(),
        isLate ? Infinity : QUIET,
      )
      isNews ||= opened.length + closed.length > 0
      for (const each of opened) await openOne(tx, siteId, subject, each, now)
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
  subject: AlarmSubject,
  { check, cause, text }: WatchFinding,
  now: Date,
): Promise<void> {
  const { experimentId, rolloutId } = subject
  const [opened] = await tx
    .insert(alarm)
    .values({ siteId, experimentId, rolloutId, check, cause, text, openedAt: now, lastSeenAt: now })
    .onConflictDoNothing()
    .returning({ id: alarm.id })
  // Another worker has just opened it.
  if (!opened) return
  const { name, experiment: of, path } = await whereOf(tx, siteId, subject)
  await tell(tx, {
    siteId,
    experimentId: of,
    kind: 'alarm',
    cause: `alarm ${opened.id}`,
    title: name,
    text: `${alarmTitle(check)}. ${text}`,
    path,
    at: now,
  })
  await recordOf(tx, siteId, subject, { personId: null, action: 'alarmed', words: `alarm: ${text}` })
}

/** The name of what an alarm is of, the experiment by which people choose what they are told, and the place below the site. */
async function whereOf(
  tx: Queries,
  siteId: number,
  { experimentId, rolloutId }: AlarmSubject,
): Promise<{ name: string; experiment: number | null; path: string }> {
  if (experimentId !== null) {
    const [found] = await tx
      .select({ name: experiment.name })
      .from(experiment)
      .where(and(eq(experiment.siteId, siteId), eq(experiment.id, experimentId)))
    return { name: found!.name, experiment: experimentId, path: `/experiments/${experimentId}#alarms` }
  }
  if (rolloutId !== null) {
    const [found] = await tx
      .select({ name: experiment.name, experiment: experiment.id })
      .from(rollout)
      .innerJoin(experiment, and(eq(experiment.siteId, siteId), eq(experiment.id, rollout.experimentId)))
      .where(and(eq(rollout.siteId, siteId), eq(rollout.id, rolloutId)))
    return { ...found!, path: `/rollouts/${rolloutId}#alarms` }
  }
  const [found] = await tx.select({ name: site.name }).from(site).where(eq(site.id, siteId))
  return { name: found!.name, experiment: null, path: '/alarms' }
}

/** Notes it in the history of what the alarm is of. The site itself has none. */
async function recordOf(
  tx: Queries,
  siteId: number,
  { experimentId, rolloutId }: AlarmSubject,
  change: { personId: number | null; action: 'alarmed' | 'acknowledged'; words: string },
): Promise<void> {
  const subjectId = experimentId ?? rolloutId
  if (subjectId === null) return
  await recordChange(tx, {
    siteId,
    subject: experimentId === null ? 'rollout' : 'experiment',
    subjectId,
    ...change,
  })
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
  { experiment: experimentId, rollout: rolloutId, open }: AlarmsQuery,
  now: Date,
): Promise<AlarmView[]> {
  const rows = await database
    .select({ row: alarm, name: experiment.name, by: person.name })
    .from(alarm)
    .leftJoin(rollout, and(eq(rollout.siteId, siteId), eq(rollout.id, alarm.rolloutId)))
    .leftJoin(
      experiment,
      and(
        eq(experiment.siteId, siteId),
        or(eq(experiment.id, alarm.experimentId), eq(experiment.id, rollout.experimentId)),
      ),
    )
    .leftJoin(person, eq(person.id, alarm.acknowledgedBy))
    .where(
      and(
        eq(alarm.siteId, siteId),
        isNull(experiment.deletedAt),
        experimentId === undefined ? undefined : eq(alarm.experimentId, experimentId),
        rolloutId === undefined ? undefined : eq(alarm.rolloutId, rolloutId),
        open
          ? isNull(alarm.closedAt)
          : or(isNull(alarm.closedAt), gte(alarm.openedAt, new Date(now.getTime() - LATELY_DAYS * DAY))),
      ),
    )
    .orderBy(sql`closed_at IS NOT NULL`, desc(alarm.openedAt), desc(alarm.id))
    .limit(500)
  return rows.map(({ row, name, by }) => ({
    id: row.id,
    experimentId: row.experimentId,
    rolloutId: row.rolloutId,
    name,
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
    await recordOf(tx, siteId, row, { personId, action: 'acknowledged', words: `acknowledged an alarm: ${word}` })
  })
}
