import type { PersonKeyView } from '../../../shared/visitors/operations'
import { randomBytes } from 'node:crypto'
import { eq, sql } from 'drizzle-orm'
import type { Database, Queries } from '../../database/connect'
import { personKey, site } from '../../database/schema'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'

/** The key by which a site's own server proves who somebody is; an environment has that of its site. */
export async function findPersonKey(database: Queries, siteId: number): Promise<string | null> {
  return (await readPersonKey(database, siteId)).key
}

/** The key, and since when it is asked for. */
export async function readPersonKey(database: Queries, siteId: number): Promise<PersonKeyView> {
  const [found] = await database
    .select({ key: personKey.key, since: personKey.createdAt })
    .from(personKey)
    .innerJoin(site, eq(personKey.siteId, sql`coalesce(${site.environmentOf}, ${site.id})`))
    .where(eq(site.id, siteId))
  return { key: found?.key ?? null, since: found?.since.toISOString() ?? null }
}

interface By {
  siteId: number
  personId: number | null
}

/**
 * Draws a new key. Persons are others from then on: those who are known by an id of before are not found by the new one.
 *
 * @throws HttpProblem 409 on an environment, which has the key of its site
 */
export async function drawPersonKey(database: Database, { siteId, personId }: By): Promise<PersonKeyView> {
  return database.transaction(async (tx) => {
    await refuseEnvironment(tx, siteId)
    const key = randomBytes(32).toString('hex')
    await tx
      .insert(personKey)
      .values({ siteId, key })
      .onConflictDoUpdate({ target: personKey.siteId, set: { key, createdAt: new Date() } })
    await noteChange(tx, { siteId, personId }, true)
    return readPersonKey(tx, siteId)
  })
}

/**
 * Asks for no proof any more.
 *
 * @throws HttpProblem 409 on an environment, which has the key of its site
 */
export async function dropPersonKey(database: Database, { siteId, personId }: By): Promise<PersonKeyView> {
  return database.transaction(async (tx) => {
    await refuseEnvironment(tx, siteId)
    await tx.delete(personKey).where(eq(personKey.siteId, siteId))
    await noteChange(tx, { siteId, personId }, false)
    return readPersonKey(tx, siteId)
  })
}

async function refuseEnvironment(tx: Queries, siteId: number): Promise<void> {
  const [own] = await tx.select({ environmentOf: site.environmentOf }).from(site).where(eq(site.id, siteId))
  if (own && own.environmentOf !== null)
    throw new HttpProblem(409, 'An environment asks for proof as its site does. Change it there.')
}

/** The log says that it was done, and not the key. */
async function noteChange(tx: Queries, { siteId, personId }: By, asksForProof: boolean): Promise<void> {
  await recordChange(tx, {
    siteId,
    personId,
    subject: 'site',
    subjectId: siteId,
    action: 'changed',
    after: { personsAreProved: asksForProof },
  })
}
