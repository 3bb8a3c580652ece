import { and, eq, gt, isNull, lt, sql } from 'drizzle-orm'
import type { Database } from '../../database/connect'
import { passwordReset, person } from '../../database/schema'
import { HttpProblem } from '../HttpProblem'
import { setPassword } from './profile'
import { hashSecret, newSecret } from './sessions'

const HOUR = 3_600_000

/**
 * A new secret to choose a password with, and the address to send it to: that of the account, however it was typed. Null
 * for an address that has no account. Earlier secrets end.
 */
export async function createReset(
  database: Database,
  email: string,
): Promise<{ email: string; secret: string } | null> {
  const [found] = await database
    .select({ id: person.id, email: person.email })
    .from(person)
    .where(eq(sql`lower(${person.email})`, email.toLowerCase()))
  if (!found) return null
  const secret = newSecret()
  await database.transaction(async (tx) => {
    await tx.delete(passwordReset).where(eq(passwordReset.personId, found.id))
    await tx.delete(passwordReset).where(lt(passwordReset.expiresAt, new Date()))
    await tx
      .insert(passwordReset)
      .values({ personId: found.id, hash: hashSecret(secret), expiresAt: new Date(Date.now() + HOUR) })
  })
  return { email: found.email, secret }
}

/** Sets the password of whom a secret belongs to: once, and only for a while. */
export async function spendReset(database: Database, secret: string, password: string): Promise<void> {
  const [used] = await database
    .update(passwordReset)
    .set({ usedAt: sql`now()` })
    .where(
      and(
        eq(passwordReset.hash, hashSecret(secret)),
        isNull(passwordReset.usedAt),
        gt(passwordReset.expiresAt, new Date()),
      ),
    )
    .returning({ personId: passwordReset.personId })
  if (!used) throw new HttpProblem(410, 'This link has run out or was used before. Ask for another.')
  await setPassword(database, used.personId, password)
}
