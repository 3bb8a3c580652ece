import { and, asc, eq, isNotNull, lte, sql } from 'drizzle-orm'
import { HOUR, MINUTE } from '../../../core/time/units'
import type { Database, Queries } from '../../database/connect'
import { letter, person } from '../../database/schema'
import type { Letter } from '../../mail/letters'
import type { MailProblem } from '../../mail/sendLetter'
import { lessLines } from '../../mail/toldLetter'
import { lessKey } from './lessKey'

/** Pauses between tries; the last one again and again. */
const PAUSES = [30_000, MINUTE, 2 * MINUTE, 5 * MINUTE, 10 * MINUTE, 15 * MINUTE]
/** A letter that could not be sent for so long is given up: what it tells stands in the list. */
const GIVEN_UP_AFTER = 24 * HOUR
const NO_MEMBER = 'Its person is no member of a site any more that it tells of.'

/** Sends a letter, and says why it could not. */
export type Send = (to: string, letter: Letter, id: string) => Promise<MailProblem | null>

export interface LetterPlace {
  /** Where people reach Vetch. */
  origin: string
  /** Signs the links to hear less. */
  secret: string
}

/**
 * Sends the letters that are due, one after the other; what cannot be sent is tried again after growing pauses. A letter
 * is locked while it is sent, and keeps its id over all tries, so that nobody gets it twice.
 * `tests/integration/letters.test.ts` holds it.
 */
export async function sendDueLetters(database: Database, place: LetterPlace, now: Date, send: Send): Promise<void> {
  const due = await database
    .select({ id: letter.id })
    .from(letter)
    .where(and(isNotNull(letter.nextTryAt), lte(letter.nextTryAt, now)))
    .orderBy(asc(letter.nextTryAt))
    .limit(100)
  const failures: unknown[] = []
  for (const { id } of due)
    await database
      .transaction((tx) => sendOne(tx, id, place, now, send))
      .catch((error: unknown) => failures.push(error))
  if (failures.length > 0) throw new AggregateError(failures, 'Not every letter could be sent.')
}

async function sendOne(tx: Queries, id: number, { origin, secret }: LetterPlace, now: Date, send: Send): Promise<void> {
  const [found] = await tx
    .select({ own: letter, to: person.email })
    .from(letter)
    .innerJoin(person, eq(person.id, letter.personId))
    .where(and(eq(letter.id, id), lte(letter.nextTryAt, now)))
    .for('update', { of: letter, skipLocked: true })
  if (!found) return
  const { own, to } = found
  if (await tellsStranger(tx, id)) {
    await tx.update(letter).set({ nextTryAt: null, problem: NO_MEMBER }).where(eq(letter.id, id))
    return
  }
  const text = own.text + lessLines(origin, lessKey(id, secret))
  const problem = await send(to, { subject: own.subject, text }, `letter-${id}-${own.createdAt.getTime()}`)
  const attempts = own.attempts + 1
  const next = new Date(now.getTime() + PAUSES[Math.min(attempts, PAUSES.length) - 1]!)
  const isOver = problem === null || problem.isFinal || next.getTime() > own.createdAt.getTime() + GIVEN_UP_AFTER
  await tx
    .update(letter)
    .set({
      attempts,
      sentAt: problem === null ? now : null,
      problem: problem?.why.slice(0, 500) ?? null,
      nextTryAt: isOver ? null : next,
    })
    .where(eq(letter.id, id))
}

/** Whether somebody has left a team since a letter about its site was written. */
async function tellsStranger(tx: Queries, letterId: number): Promise<boolean> {
  const { rows } = await tx.execute(sql`
    SELECT FROM notification n JOIN site s ON s.id = n.site_id
    WHERE n.letter_id = ${letterId} AND NOT EXISTS (
      SELECT FROM membership m WHERE m.organisation_id = s.organisation_id AND m.person_id = n.person_id)
    LIMIT 1`)
  return rows.length > 0
}
