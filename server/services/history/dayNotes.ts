import { and, eq } from 'drizzle-orm'
import type { DayNoteInput } from '../../../shared/history/history'
import type { DayNoteView } from '../../../shared/history/replies'
import type { Database, Queries } from '../../database/connect'
import { dayNote, person } from '../../database/schema'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'

export interface DayNoteTarget {
  siteId: number
  noteId: number
  personId: number | null
}

const own = ({ siteId, noteId }: Pick<DayNoteTarget, 'siteId' | 'noteId'>) =>
  and(eq(dayNote.siteId, siteId), eq(dayNote.id, noteId))

/** @throws HttpProblem 404 for one that is not the site's */
async function findDayNote(database: Queries, target: Pick<DayNoteTarget, 'siteId' | 'noteId'>): Promise<DayNoteView> {
  const [row] = await database
    .select({ id: dayNote.id, day: dayNote.day, words: dayNote.words, person: person.name })
    .from(dayNote)
    .leftJoin(person, eq(person.id, dayNote.createdBy))
    .where(own(target))
  if (!row) throw new HttpProblem(404, 'This note does not exist any more.')
  return row
}

export async function addDayNote(
  database: Database,
  { siteId, personId }: { siteId: number; personId: number | null },
  { day, words }: DayNoteInput,
): Promise<DayNoteView> {
  return database.transaction(async (tx) => {
    const [made] = await tx
      .insert(dayNote)
      .values({ siteId, day, words, createdBy: personId })
      .returning({ id: dayNote.id })
    const note = { siteId, noteId: made!.id, personId }
    await recordNote(tx, note, 'added', undefined, { day, words })
    return findDayNote(tx, note)
  })
}

/** @throws HttpProblem 404 for one that is gone */
export async function changeDayNote(
  database: Database,
  target: DayNoteTarget,
  { day, words }: DayNoteInput,
): Promise<DayNoteView> {
  return database.transaction(async (tx) => {
    const before = await findDayNote(tx, target)
    await tx.update(dayNote).set({ day, words }).where(own(target))
    await recordNote(tx, target, 'changed', { day: before.day, words: before.words }, { day, words })
    return findDayNote(tx, target)
  })
}

/** @throws HttpProblem 404 for one that is gone */
export async function deleteDayNote(database: Database, target: DayNoteTarget): Promise<void> {
  await database.transaction(async (tx) => {
    const { day, words } = await findDayNote(tx, target)
    await tx.delete(dayNote).where(own(target))
    await recordNote(tx, target, 'deleted', { day, words }, undefined)
  })
}

function recordNote(
  tx: Queries,
  { siteId, noteId, personId }: DayNoteTarget,
  action: 'added' | 'changed' | 'deleted',
  before: DayNoteInput | undefined,
  after: DayNoteInput | undefined,
): Promise<void> {
  return recordChange(tx, { siteId, personId, subject: 'day note', subjectId: noteId, action, before, after })
}
