import { and, eq, isNull, ne, sql } from 'drizzle-orm'
import type { Database } from '../../database/connect'
import { accountSession, passwordReset, person } from '../../database/schema'
import { HttpProblem } from '../HttpProblem'
import { hashPassword, verifyPassword } from './password'
import type { Person } from './accounts'

export async function renamePerson(database: Database, personId: number, name: string): Promise<Person> {
  const [renamed] = await database
    .update(person)
    .set({ name })
    .where(eq(person.id, personId))
    .returning({ id: person.id, name: person.name, email: person.email })
  return renamed!
}

/** Changes a password, of whoever knows the one before. All other sessions end. */
export async function changePassword(
  database: Database,
  { personId, sessionId }: { personId: number; sessionId: number },
  { current, password }: { current: string; password: string },
): Promise<void> {
  const [own] = await database.select({ hash: person.passwordHash }).from(person).where(eq(person.id, personId))
  if (!(await verifyPassword(own?.hash ?? null, current)))
    throw new HttpProblem(422, 'This is not the password that you have now.', {
      current: 'This is not the password that you have now.',
    })
  await setPassword(database, personId, password, sessionId)
}

/**
 * Gives a person a password, and ends their sessions and the links by which another could be set.
 *
 * @param kept - a session that goes on
 */
export async function setPassword(
  database: Database,
  personId: number,
  password: string,
  kept: number | null = null,
): Promise<void> {
  const passwordHash = await hashPassword(password)
  await database.transaction(async (tx) => {
    await tx.update(person).set({ passwordHash }).where(eq(person.id, personId))
    await tx
      .update(passwordReset)
      .set({ usedAt: sql`now()` })
      .where(and(eq(passwordReset.personId, personId), isNull(passwordReset.usedAt)))
    await tx
      .delete(accountSession)
      .where(and(eq(accountSession.personId, personId), kept === null ? undefined : ne(accountSession.id, kept)))
  })
}
