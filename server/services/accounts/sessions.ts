import type { SessionView } from '../../../shared/accounts/replies'
import { createHash, randomBytes } from 'node:crypto'
import { and, desc, eq, gt, lt, sql } from 'drizzle-orm'
import { pageOf, type Paged, type PageQuery } from '../../../shared/api/paging'
import type { Queries } from '../../database/connect'
import { olderThan } from '../../database/olderThan'
import { accountSession, knownDevice, membership, person, site } from '../../database/schema'
import { readUserAgent } from '../../intake/userAgent'
import type { Person } from './accounts'
import { DAY } from '../../../core/time/units'

/** A session that is not used for so long ends. */
export const SESSION_DAYS = 14
/** The time of the last use is noted no more often than this, so that reading stays reading. */
const NOTE_EVERY_MINUTES = 10

export interface Session {
  id: number
  person: Person
}

/** A secret that a browser keeps in a cookie; only its hash is stored. */
export function newSecret(): string {
  return randomBytes(32).toString('base64url')
}

export function hashSecret(secret: string): string {
  return createHash('sha256').update(secret).digest('base64url')
}

/** Signs a person in on a device, which is known from then on. */
export async function startSession(
  database: Queries,
  personId: number,
  secret: string,
  device: { secret: string; userAgent: string },
): Promise<void> {
  const { browser, system } = readUserAgent(device.userAgent)
  await database
    .insert(accountSession)
    .values({ personId, hash: hashSecret(secret), device: `${browser} on ${system}` })
  await database
    .insert(knownDevice)
    .values({ personId, hash: hashSecret(device.secret) })
    .onConflictDoUpdate({ target: [knownDevice.personId, knownDevice.hash], set: { usedAt: sql`now()` } })
}

/** Whoever a secret signs in, or null when it has run out or was ended. */
export async function findSession(database: Queries, secret: string): Promise<Session | null> {
  const [found] = await database
    .select({
      id: accountSession.id,
      usedAt: accountSession.usedAt,
      person: { id: person.id, name: person.name, email: person.email },
    })
    .from(accountSession)
    .innerJoin(person, eq(person.id, accountSession.personId))
    .where(and(eq(accountSession.hash, hashSecret(secret)), gt(accountSession.usedAt, daysAgo(SESSION_DAYS))))
  if (!found) return null
  if (found.usedAt < new Date(Date.now() - NOTE_EVERY_MINUTES * 60_000)) {
    await database
      .update(accountSession)
      .set({ usedAt: sql`now()` })
      .where(eq(accountSession.id, found.id))
  }
  return { id: found.id, person: found.person }
}

/** A page of where a person is signed in, the latest sign-in first. */
export async function sessionsOf(
  database: Queries,
  personId: number,
  ownId: number,
  { after, limit }: PageQuery,
): Promise<Paged<SessionView>> {
  const rows = await database
    .select()
    .from(accountSession)
    .where(
      and(
        eq(accountSession.personId, personId),
        gt(accountSession.usedAt, daysAgo(SESSION_DAYS)),
        olderThan(accountSession.id, after),
      ),
    )
    .orderBy(desc(accountSession.id))
    .limit(limit + 1)
  const items = rows.map(({ id, device, createdAt, usedAt }) => ({
    id,
    device,
    createdAt: createdAt.toISOString(),
    usedAt: usedAt.toISOString(),
    isOwn: id === ownId,
  }))
  return pageOf(items, limit)
}

/** Ends a session of a person; its secret is worth nothing from then on. */
export async function endSession(database: Queries, personId: number, sessionId: number): Promise<boolean> {
  const ended = await database
    .delete(accountSession)
    .where(and(eq(accountSession.id, sessionId), eq(accountSession.personId, personId)))
    .returning({ id: accountSession.id })
  return ended.length > 0
}

/** Whether a person has signed in on a device before. */
export async function isKnownDevice(database: Queries, email: string, secret: string): Promise<boolean> {
  const [found] = await database
    .select({ personId: knownDevice.personId })
    .from(knownDevice)
    .innerJoin(person, eq(person.id, knownDevice.personId))
    .where(and(eq(sql`lower(${person.email})`, email.toLowerCase()), eq(knownDevice.hash, hashSecret(secret))))
  return found !== undefined
}

/** Forgets sessions that have run out. */
export async function dropOldSessions(database: Queries): Promise<void> {
  await database.delete(accountSession).where(lt(accountSession.usedAt, daysAgo(SESSION_DAYS)))
}

function daysAgo(days: number): Date {
  return new Date(Date.now() - days * DAY)
}

/** Whether whoever is signed in with a session is a member of the site of a key: now, and not when a link was made. */
export async function isMemberBySession(database: Queries, sessionId: number, key: string): Promise<boolean> {
  const [found] = await database
    .select({ role: membership.role })
    .from(accountSession)
    .innerJoin(membership, eq(membership.personId, accountSession.personId))
    .innerJoin(site, eq(site.organisationId, membership.organisationId))
    .where(and(eq(accountSession.id, sessionId), gt(accountSession.usedAt, daysAgo(SESSION_DAYS)), eq(site.key, key)))
  return found !== undefined
}
