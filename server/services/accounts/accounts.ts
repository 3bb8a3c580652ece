import type { AccountView, SiteRef } from '../../../shared/accounts/replies'
import { and, asc, eq, sql } from 'drizzle-orm'
import type { InferType } from 'yup'
import type { ownerSchema, Role } from '../../../shared/accounts/account'
import type { Database, Queries } from '../../database/connect'
import { membership, organisation, person, site } from '../../database/schema'
import { HttpProblem } from '../HttpProblem'
import { hashPassword, verifyPassword } from './password'

export interface Person {
  id: number
  name: string
  email: string
}

/** Whether nobody has an account yet. */
export async function needsOwner(database: Queries): Promise<boolean> {
  return (await database.select({ id: person.id }).from(person).limit(1)).length === 0
}

const HAS_OWNER = 'This Vetch has an owner already. Sign in, or ask the owner for an account.'

/** Creates the first account, which owns a new organisation. Refused once anybody has an account. */
export async function createOwner(database: Database, input: InferType<typeof ownerSchema>): Promise<Person> {
  // Hashing costs; nobody is to make the server do it for nothing.
  if (!(await needsOwner(database))) throw new HttpProblem(409, HAS_OWNER)
  const passwordHash = await hashPassword(input.password)
  return database.transaction(async (tx) => {
    // Two first visitors at the same time must not both become the owner.
    await tx.execute(sql`LOCK TABLE person IN EXCLUSIVE MODE`)
    if (!(await needsOwner(tx))) throw new HttpProblem(409, HAS_OWNER)
    const [owner] = await tx.insert(person).values({ name: input.name, email: input.email, passwordHash }).returning()
    const [made] = await tx.insert(organisation).values({ name: input.organisation }).returning()
    await tx.insert(membership).values({ organisationId: made!.id, personId: owner!.id, role: 'owner' })
    return owner!
  })
}

/** The person whom an e-mail address and a password belong to. */
export async function findByPassword(database: Queries, email: string, password: string): Promise<Person | null> {
  const [found] = await database
    .select()
    .from(person)
    .where(eq(sql`lower(${person.email})`, email.toLowerCase()))
  return (await verifyPassword(found?.passwordHash ?? null, password)) ? found! : null
}

/** The role of a person on a site, or null for somebody who has nothing to do with it. */
export async function roleOnSite(database: Queries, personId: number, siteId: number): Promise<Role | null> {
  const [found] = await database
    .select({ role: membership.role })
    .from(site)
    .innerJoin(membership, eq(membership.organisationId, site.organisationId))
    .where(and(eq(site.id, siteId), eq(membership.personId, personId)))
  return found?.role ?? null
}

/** The organisation that a person owns, if any. */
export async function ownedOrganisation(database: Queries, personId: number): Promise<number | null> {
  const [found] = await database
    .select({ id: membership.organisationId })
    .from(membership)
    .where(and(eq(membership.personId, personId), eq(membership.role, 'owner')))
    .orderBy(asc(membership.organisationId))
  return found?.id ?? null
}

export async function sitesOf(database: Queries, personId: number): Promise<SiteRef[]> {
  return database
    .select({ id: site.id, name: site.name, address: site.address, timeZone: site.timeZone, role: membership.role })
    .from(site)
    .innerJoin(membership, eq(membership.organisationId, site.organisationId))
    .where(eq(membership.personId, personId))
    .orderBy(asc(site.id))
}

/** What the interface needs to know about the person in front of it. */
export async function accountView(database: Queries, signedIn: Person | null): Promise<AccountView> {
  if (!signedIn) return { person: null, needsOwner: await needsOwner(database), sites: [], mayAddSites: false }
  return {
    person: { name: signedIn.name, email: signedIn.email },
    needsOwner: false,
    sites: await sitesOf(database, signedIn.id),
    mayAddSites: (await ownedOrganisation(database, signedIn.id)) !== null,
  }
}
