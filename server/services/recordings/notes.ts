import type { RecordingNote } from '../../../shared/recordings/replies'
import { and, asc, eq } from 'drizzle-orm'
import type { Queries } from '../../database/connect'
import { person, recording, recordingNote } from '../../database/schema'
import { HttpProblem } from '../HttpProblem'
import type { RecordingPlace } from './recordings'

/** Notes at moments of a recording, in the order of these. */
export async function notesOf(database: Queries, { siteId, visitor, visit }: RecordingPlace): Promise<RecordingNote[]> {
  const rows = await database
    .select({
      id: recordingNote.id,
      moment: recordingNote.moment,
      words: recordingNote.words,
      person: person.name,
      createdAt: recordingNote.createdAt,
    })
    .from(recordingNote)
    .leftJoin(person, eq(person.id, recordingNote.createdBy))
    .where(
      and(eq(recordingNote.siteId, siteId), eq(recordingNote.visitorId, visitor), eq(recordingNote.sessionId, visit)),
    )
    .orderBy(asc(recordingNote.moment), asc(recordingNote.id))
  return rows.map((row) => ({ ...row, createdAt: row.createdAt.toISOString() }))
}

export async function addNote(
  database: Queries,
  place: RecordingPlace,
  personId: number | null,
  { moment, words }: { moment: number; words: string },
): Promise<RecordingNote> {
  const { siteId, visitor, visit } = place
  const [known] = await database
    .select({ bytes: recording.bytes })
    .from(recording)
    .where(and(eq(recording.siteId, siteId), eq(recording.visitorId, visitor), eq(recording.sessionId, visit)))
  if (!known) throw new HttpProblem(404, 'This recording does not exist any more.')
  const [made] = await database
    .insert(recordingNote)
    .values({ siteId, visitorId: visitor, sessionId: visit, moment, words, createdBy: personId })
    .returning({ id: recordingNote.id })
  return (await notesOf(database, place)).find(({ id }) => id === made!.id)!
}

export async function removeNote(
  database: Queries,
  { siteId, visitor, visit }: RecordingPlace,
  noteId: number,
): Promise<void> {
  const gone = await database
    .delete(recordingNote)
    .where(
      and(
        eq(recordingNote.siteId, siteId),
        eq(recordingNote.visitorId, visitor),
        eq(recordingNote.sessionId, visit),
        eq(recordingNote.id, noteId),
      ),
    )
    .returning({ id: recordingNote.id })
  if (gone.length === 0) throw new HttpProblem(404, 'This note does not exist any more.')
}
