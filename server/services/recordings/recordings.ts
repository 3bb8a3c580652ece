import type { RecordedEvents, RecordingsView, RecordingView } from '../../../shared/recordings/replies'
import { and, asc, desc, eq, gte, lt, sql } from 'drizzle-orm'
import { dayAfter, firstMoment } from '../../../core/time/siteDay'
import type { FilterQuery } from '../../../shared/evidence/filter'
import { MOST_RECORDINGS, readHappenings, readPlan } from '../../../shared/recordings/recording'
import type { Database, Queries } from '../../database/connect'
import { pageView, recording, recordingChunk, recordingNote } from '../../database/schema'
import { HttpProblem } from '../HttpProblem'
import type { EvidenceThread } from '../evidence/askEvidence'
import { findSite } from '../sites/sites'
import { notesOf } from './notes'
import { unpacked } from './unpacked'

/** Recordings that are looked through for what happened. */
const MOST_SEARCHED = 5000
/** Bytes that are read and sent at once, unpacked. */
const STRETCH = 4 * 1024 * 1024
/** Of a chunk from before they were counted, how many times its size it may unpack to. */
const LIKELY_RATIO = 10
/** Sessions that began a little before the first chunk of their recording. */
const SLACK = 60 * 60 * 1000

/** Names a recorded session. */
export interface RecordingPlace {
  siteId: number
  visitor: string
  visit: string
}

const isThis = ({ siteId, visitor, visit }: RecordingPlace) =>
  and(eq(recording.siteId, siteId), eq(recording.visitorId, visitor), eq(recording.sessionId, visit))

interface RecordingsQuery extends FilterQuery {
  happened?: string
  seconds: number
  visitor?: string
  clicked?: string
  plan?: string
  left?: number
}

/** Recorded sessions that began within some days and in which something happened, the latest first. */
export async function listRecordings(
  database: Queries,
  evidence: Pick<EvidenceThread, 'ask'>,
  siteId: number,
  { happened, seconds, visitor, clicked, plan: planText, left, ...filter }: RecordingsQuery,
): Promise<RecordingsView> {
  const { timeZone } = await findSite(database, siteId)
  const from = new Date(firstMoment(filter.from, timeZone) - SLACK)
  const until = new Date(firstMoment(dayAfter(filter.to), timeZone) + SLACK)
  const rows = await database
    .select({
      visitor: recording.visitorId,
      session: recording.sessionId,
      bytes: recording.bytes,
      notes: sql<number>`(SELECT count(*)::int FROM ${recordingNote} WHERE ${recordingNote.siteId} = ${siteId}
        AND ${recordingNote.visitorId} = ${recording.visitorId} AND ${recordingNote.sessionId} = ${recording.sessionId})`,
    })
    .from(recording)
    .where(
      and(
        eq(recording.siteId, siteId),
        gte(recording.listedAt, from),
        lt(recording.listedAt, until),
        visitor === undefined ? undefined : eq(recording.visitorId, visitor),
      ),
    )
    .orderBy(desc(recording.listedAt))
    .limit(MOST_SEARCHED)
  const plan = planText === undefined ? null : readPlan(planText)
  const happenings = readHappenings(happened) ?? []
  const { strips } = await evidence.ask(siteId, 'strips', {
    ...filter,
    sessions: rows.map((row) => ({ visitor: row.visitor, session: row.session })),
    happened: {
      kinds: happenings.filter((each) => each !== 'left-form'),
      hasLeftForm: happenings.includes('left-form'),
      shortest: seconds * 1000,
      clicked: clicked ?? null,
    },
    ...(plan && left !== undefined ? { left: { plan, step: left } } : {}),
  })
  const details = new Map(rows.map((row) => [`${row.visitor} ${row.session}`, row]))
  return {
    recordings: strips.slice(0, MOST_RECORDINGS).map((strip) => {
      const { bytes, notes } = details.get(`${strip.visitor} ${strip.session}`)!
      return { ...strip, bytes, notes }
    }),
    searched: rows.length,
    hasMore: strips.length > MOST_RECORDINGS || rows.length === MOST_SEARCHED,
  }
}

/** What happened in a recorded session. */
export async function readRecording(
  database: Queries,
  evidence: Pick<EvidenceThread, 'ask'>,
  place: RecordingPlace,
): Promise<RecordingView> {
  const { siteId, visitor, visit } = place
  const [row] = await database.select().from(recording).where(isThis(place))
  if (!row) throw new HttpProblem(404, 'This recording does not exist any more.')
  const { strips } = await evidence.ask(siteId, 'strips', {
    sessions: [{ visitor, session: visit }],
    happened: { kinds: [], hasLeftForm: false, shortest: 0 },
  })
  if (!strips[0]) throw new HttpProblem(404, 'The visit of this recording is not known, or is in nobody’s numbers.')
  const offset = await clockOffset(database, place)
  const began = row.startedAt.getTime() + offset
  return {
    strip: strips[0],
    began,
    length: row.endedAt.getTime() + offset - began,
    notes: await notesOf(database, place),
  }
}

/** What the browser's clock was off by, as its first page view tells. */
async function clockOffset(database: Queries, { siteId, visitor, visit }: RecordingPlace): Promise<number> {
  const [view] = await database
    .select({ offset: pageView.clockOffset })
    .from(pageView)
    .where(and(eq(pageView.siteId, siteId), eq(pageView.visitorId, visitor), eq(pageView.sessionId, visit)))
    .orderBy(asc(pageView.occurredAt))
    .limit(1)
  return view?.offset ?? 0
}

/** A stretch of a recording: its chunks in the order in which they were recorded, whatever order they came in. */
export async function readRecordedEvents(
  database: Queries,
  place: RecordingPlace,
  after: number,
): Promise<RecordedEvents> {
  const { siteId, visitor, visit } = place
  const ofThis = and(
    eq(recordingChunk.siteId, siteId),
    eq(recordingChunk.visitorId, visitor),
    eq(recordingChunk.sessionId, visit),
  )
  const sizes = await database
    .select({
      id: recordingChunk.id,
      size: sql<number>`coalesce(${recordingChunk.unpacked}, length(${recordingChunk.content}) * ${LIKELY_RATIO})`,
    })
    .from(recordingChunk)
    .where(ofThis)
    .orderBy(asc(recordingChunk.id))
  if (sizes.length === 0) throw new HttpProblem(404, 'This recording does not exist any more.')
  let end = after
  for (let size = 0; end < sizes.length && (end === after || size + sizes[end]!.size <= STRETCH); end++)
    size += sizes[end]!.size
  const wanted = sizes.slice(after, end).map(({ id }) => id)
  const rows = await database
    .select({ id: recordingChunk.id, content: recordingChunk.content })
    .from(recordingChunk)
    .where(and(ofThis, sql`${recordingChunk.id} = ANY(${sql.param(wanted)}::uuid[])`))
    .orderBy(asc(recordingChunk.id))
  const offset = await clockOffset(database, place)
  const events: (object & { timestamp: number })[] = []
  for (const { content } of rows)
    for (const event of JSON.parse((await unpacked(content)).toString('utf8')) as (object & { timestamp: number })[])
      events.push({ ...event, timestamp: event.timestamp + offset })
  return { events: events.sort((a, b) => a.timestamp - b.timestamp), next: end < sizes.length ? end : null }
}

export async function deleteRecording(database: Database, place: RecordingPlace): Promise<void> {
  const { siteId, visitor, visit } = place
  await database.transaction(async (tx) => {
    const gone = await tx.delete(recording).where(isThis(place)).returning({ visitor: recording.visitorId })
    if (gone.length === 0) throw new HttpProblem(404, 'This recording does not exist any more.')
    for (const table of [recordingChunk, recordingNote])
      await tx
        .delete(table)
        .where(and(eq(table.siteId, siteId), eq(table.visitorId, visitor), eq(table.sessionId, visit)))
  })
}
