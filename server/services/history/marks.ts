import { and, desc, eq, gt, gte, inArray, isNotNull, isNull, lt, lte, or, sql } from 'drizzle-orm'
import type { AnyPgColumn } from 'drizzle-orm/pg-core'
import { dayAfter, firstMoment, siteDays } from '../../../core/time/siteDay'
import { alarmTitle } from '../../../core/watch/finding'
import type { MarksQuery } from '../../../shared/history/history'
import type { MarkView } from '../../../shared/history/replies'
import { alarmPath } from '../../../shared/watch/alarmLink'
import type { Queries } from '../../database/connect'
import {
  alarm,
  changeLog,
  dayNote,
  experiment,
  finding,
  metric,
  metricVersion,
  person,
  rollout,
} from '../../database/schema'
import { findSite } from '../sites/sites'

/** Of more than these the latest are told. */
const MOST_OF_A_KIND = 500

/** Days of a site, as moments: the first and the one after the last. */
interface Span {
  siteId: number
  from: Date
  until: Date
}

/** A mark before its day is known. */
type Happened = Omit<MarkView, 'day'> & { at: Date }

/** What happened on a site within some days, in the order of time. */
export async function readMarks(database: Queries, siteId: number, { from, to }: MarksQuery): Promise<MarkView[]> {
  const { timeZone } = await findSite(database, siteId)
  const span: Span = {
    siteId,
    from: new Date(firstMoment(from, timeZone)),
    until: new Date(firstMoment(dayAfter(to), timeZone)),
  }
  const happened = (
    await Promise.all([
      startsAndEnds(database, span),
      shares(database, span),
      rollouts(database, span),
      definitions(database, span),
      alarms(database, span),
      findings(database, span),
    ])
  ).flat()
  const dayOf = siteDays(timeZone)
  const dated = happened
    .sort((a, b) => a.at.getTime() - b.at.getTime())
    .map(({ at, ...mark }): MarkView => ({ ...mark, day: dayOf(at.getTime()) }))
  // Of one day what people wrote comes last.
  return [...dated, ...(await notes(database, siteId, from, to))].sort((a, b) =>
    a.day < b.day ? -1 : Number(a.day > b.day),
  )
}

const within = (column: AnyPgColumn, { from, until }: Span) => and(gte(column, from), lt(column, until))

async function startsAndEnds(database: Queries, span: Span): Promise<Happened[]> {
  const rows = await database
    .select()
    .from(experiment)
    .where(
      and(
        eq(experiment.siteId, span.siteId),
        isNull(experiment.deletedAt),
        isNotNull(experiment.startedAt),
        or(within(experiment.startedAt, span), within(experiment.endedAt, span)),
      ),
    )
    .orderBy(desc(experiment.startedAt))
    .limit(MOST_OF_A_KIND)
  const isWithin = (at: Date | null): at is Date => at !== null && at >= span.from && at < span.until
  return rows.flatMap(({ id, name, purpose, startedAt, endedAt, decision }) => {
    const isServed = purpose === 'serve'
    const of = { title: name, path: `/experiments/${id}`, noteId: null, person: null }
    return [
      ...(isWithin(startedAt)
        ? [
            {
              ...of,
              key: `start-${id}`,
              kind: isServed ? ('rollout' as const) : ('start' as const),
              words: isServed ? 'is served' : 'started',
              at: startedAt,
            },
          ]
        : []),
      ...(isWithin(endedAt)
        ? [
            {
              ...of,
              key: `end-${id}`,
              kind: isServed ? ('rollout' as const) : ('end' as const),
              words: isServed ? 'is no longer served' : decision?.reason ? `ended. ${decision.reason}` : 'ended',
              at: endedAt,
            },
          ]
        : []),
    ]
  })
}

/** Shares that were raised while visitors came: by hand, or as a ramp said. */
async function shares(database: Queries, span: Span): Promise<Happened[]> {
  const rows = await database
    .select({
      id: changeLog.id,
      at: changeLog.at,
      words: changeLog.words,
      of: experiment.id,
      name: experiment.name,
      by: person.name,
    })
    .from(changeLog)
    .innerJoin(experiment, and(eq(experiment.siteId, span.siteId), eq(experiment.id, changeLog.subjectId)))
    .leftJoin(person, eq(person.id, changeLog.personId))
    .where(
      and(
        eq(changeLog.siteId, span.siteId),
        eq(changeLog.subject, 'experiment'),
        eq(changeLog.action, 'changed'),
        within(changeLog.at, span),
        gt(changeLog.at, experiment.startedAt),
        isNull(experiment.deletedAt),
        sql`(${changeLog.after} ? 'share' OR (${changeLog.change}->>'do' = 'set' AND ${changeLog.change}->'to' ? 'share'))`,
      ),
    )
    .orderBy(desc(changeLog.at))
    .limit(MOST_OF_A_KIND)
  return rows.map(({ id, at, words, of, name, by }) => ({
    key: `share-${id}`,
    kind: 'share',
    title: name,
    words: words ?? 'traffic share raised',
    path: `/experiments/${of}`,
    noteId: null,
    person: by,
    at,
  }))
}

async function rollouts(database: Queries, span: Span): Promise<Happened[]> {
  const rows = await database
    .select({
      id: changeLog.id,
      at: changeLog.at,
      words: changeLog.words,
      of: rollout.id,
      name: experiment.name,
      by: person.name,
    })
    .from(changeLog)
    .innerJoin(rollout, and(eq(rollout.siteId, span.siteId), eq(rollout.id, changeLog.subjectId)))
    .innerJoin(experiment, and(eq(experiment.siteId, span.siteId), eq(experiment.id, rollout.experimentId)))
    .leftJoin(person, eq(person.id, changeLog.personId))
    .where(
      and(
        eq(changeLog.siteId, span.siteId),
        eq(changeLog.subject, 'rollout'),
        inArray(changeLog.action, ['started', 'changed']),
        within(changeLog.at, span),
      ),
    )
    .orderBy(desc(changeLog.at))
    .limit(MOST_OF_A_KIND)
  return rows.map(({ id, at, words, of, name, by }) => ({
    key: `rollout-${id}`,
    kind: 'rollout',
    title: name,
    words: words ?? 'changed',
    path: `/rollouts/${of}`,
    noteId: null,
    person: by,
    at,
  }))
}

/** From then on a metric counts otherwise: its first version begins nothing that was otherwise. */
async function definitions(database: Queries, span: Span): Promise<Happened[]> {
  const rows = await database
    .select({
      id: metricVersion.id,
      at: metricVersion.createdAt,
      version: metricVersion.version,
      metricId: metric.id,
      name: metric.name,
    })
    .from(metricVersion)
    .innerJoin(metric, and(eq(metric.siteId, span.siteId), eq(metric.id, metricVersion.metricId)))
    .where(
      and(eq(metricVersion.siteId, span.siteId), gt(metricVersion.version, 1), within(metricVersion.createdAt, span)),
    )
    .orderBy(desc(metricVersion.createdAt))
    .limit(MOST_OF_A_KIND)
  return rows.map(({ id, at, version, metricId, name }) => ({
    key: `definition-${id}`,
    kind: 'definition',
    title: name,
    words: `has a new definition, version ${version}`,
    path: `/setup/metrics?metric=${encodeURIComponent(metricId)}`,
    noteId: null,
    person: null,
    at,
  }))
}

async function alarms(database: Queries, span: Span): Promise<Happened[]> {
  const rows = await database
    .select({ row: alarm, name: experiment.name })
    .from(alarm)
    .leftJoin(rollout, and(eq(rollout.siteId, span.siteId), eq(rollout.id, alarm.rolloutId)))
    .leftJoin(
      experiment,
      and(
        eq(experiment.siteId, span.siteId),
        or(eq(experiment.id, alarm.experimentId), eq(experiment.id, rollout.experimentId)),
      ),
    )
    .where(and(eq(alarm.siteId, span.siteId), isNull(experiment.deletedAt), within(alarm.openedAt, span)))
    .orderBy(desc(alarm.openedAt))
    .limit(MOST_OF_A_KIND)
  return rows.map(({ row, name }) => ({
    key: `alarm-${row.id}`,
    kind: 'alarm',
    title: name ?? alarmTitle(row.check),
    words: row.text,
    path: alarmPath(row),
    noteId: null,
    person: null,
    at: row.openedAt,
  }))
}

async function findings(database: Queries, span: Span): Promise<Happened[]> {
  const rows = await database
    .select({ id: finding.id, title: finding.title, at: finding.createdAt, by: person.name })
    .from(finding)
    .leftJoin(person, eq(person.id, finding.createdBy))
    .where(and(eq(finding.siteId, span.siteId), isNull(finding.mergedInto), within(finding.createdAt, span)))
    .orderBy(desc(finding.createdAt))
    .limit(MOST_OF_A_KIND)
  return rows.map(({ id, title, at, by }) => ({
    key: `finding-${id}`,
    kind: 'finding',
    title,
    words: 'noted',
    path: `/evidence/findings/${id}`,
    noteId: null,
    person: by,
    at,
  }))
}

async function notes(database: Queries, siteId: number, from: string, to: string): Promise<MarkView[]> {
  const rows = await database
    .select({ id: dayNote.id, day: dayNote.day, words: dayNote.words, by: person.name })
    .from(dayNote)
    .leftJoin(person, eq(person.id, dayNote.createdBy))
    .where(and(eq(dayNote.siteId, siteId), gte(dayNote.day, from), lte(dayNote.day, to)))
    .orderBy(desc(dayNote.day), desc(dayNote.id))
    .limit(MOST_OF_A_KIND)
  return rows.reverse().map(({ id, day, words, by }) => ({
    key: `note-${id}`,
    kind: 'note',
    day,
    title: '',
    words,
    path: null,
    noteId: id,
    person: by,
  }))
}
