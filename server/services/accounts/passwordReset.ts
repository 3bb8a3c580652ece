import { and, eq, gt, isNull, lt, or, sql } from 'drizzle-orm'
import type { Database } from '../../database/connect'
import { passwordReset, person } from '../../database/schema'
import { resetLetter } from '../../mail/letters'
import { sendLetter, type MailSettings } from '../../mail/sendLetter'
import { HttpProblem } from '../HttpProblem'
import { setPassword } from './profile'
import { hashSecret, newSecret } from './sessions'
import { HOUR } from '../../../core/time/units'

/**
 * Sends a link to choose a new password to the address of an account, however it was typed; to nobody where there is no
 * account. Earlier links end.
 */
export async function sendReset(
  database: Database,
  { ownOrigin, ...mail }: MailSettings & { ownOrigin: string },
  email: string,
): Promise<void> {
  const [found] = await database
    .select({ id: person.id, email: person.email })
    .from(person)
    .where(eq(sql`lower(${person.email})`, email.toLowerCase()))
  if (!found) return
  const secret = newSecret()
  await database.transaction(async (tx) => {
    await tx
      .delete(passwordReset)
      .where(or(eq(passwordReset.personId, found.id), lt(passwordReset.expiresAt, new Date())))
    await tx
      .insert(passwordReset)
      .values({ personId: found.id, hash: hashSecret(secret), expiresAt: new Date(Date.now() + HOUR) })
  })
  await sendLetter(mail, found.email, resetLetter(`${ownOrigin}/reset#${secret}`))
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
