import type { InvitationView } from '../../../shared/accounts/replies'
import type { OpenInvitation } from '../../../shared/accounts/memberReplies'
import { and, desc, eq, gt, isNull, sql } from 'drizzle-orm'
import { LEAST_PASSWORD, type Role } from '../../../shared/accounts/account'
import { pageOf, type Paged, type PageQuery } from '../../../shared/api/paging'
import type { Database, Queries } from '../../database/connect'
import { olderThan } from '../../database/olderThan'
import { invitation, membership, organisation, person } from '../../database/schema'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { findSite } from '../sites/sites'
import type { Person } from './accounts'
import { hashPassword, verifyPassword } from './password'
import { hashSecret, newSecret } from './sessions'
import { DAY } from '../../../core/time/units'

const DAYS = 7
const GONE = 'This invitation has run out, was used, or was taken back. Ask for another.'

interface Made extends OpenInvitation {
  secret: string
  organisation: string
}

/** Asks somebody to join the organisation of a site. What they were asked before ends. */
export async function createInvitation(
  database: Database,
  { siteId, by }: { siteId: number; by: Person },
  { email, role }: { email: string; role: Role },
): Promise<Made> {
  const { organisationId } = await findSite(database, siteId)
  if (await isMember(database, organisationId, email))
    throw new HttpProblem(409, `${email} is a member already.`, { email: 'This person is a member already.' })
  const secret = newSecret()
  return database.transaction(async (tx) => {
    await tx
      .update(invitation)
      .set({ endedAt: sql`now()` })
      .where(
        and(
          eq(invitation.organisationId, organisationId),
          eq(sql`lower(${invitation.email})`, email.toLowerCase()),
          isNull(invitation.endedAt),
        ),
      )
    const [made] = await tx
      .insert(invitation)
      .values({
        organisationId,
        email,
        role,
        invitedBy: by.id,
        hash: hashSecret(secret),
        expiresAt: new Date(Date.now() + DAYS * DAY),
      })
      .returning()
    await recordChange(tx, {
      siteId,
      personId: by.id,
      subject: 'invitation',
      subjectId: made!.id,
      action: 'invited',
      after: { email, role },
    })
    const [to] = await tx.select().from(organisation).where(eq(organisation.id, organisationId))
    return { ...viewOf(made!, by.name), secret, organisation: to!.name }
  })
}

/** A page of the invitations that are open, the latest first. */
export async function listInvitations(
  database: Queries,
  siteId: number,
  { after, limit }: PageQuery,
): Promise<Paged<OpenInvitation>> {
  const { organisationId } = await findSite(database, siteId)
  const rows = await database
    .select({ invitation, by: person.name })
    .from(invitation)
    .leftJoin(person, eq(person.id, invitation.invitedBy))
    .where(and(eq(invitation.organisationId, organisationId), isOpen(), olderThan(invitation.id, after)))
    .orderBy(desc(invitation.id))
    .limit(limit + 1)
  return pageOf(
    rows.map(({ invitation: row, by }) => viewOf(row, by)),
    limit,
  )
}

export async function revokeInvitation(
  database: Database,
  siteId: number,
  personId: number | null,
  invitationId: number,
): Promise<void> {
  await database.transaction(async (tx) => {
    const { organisationId } = await findSite(tx, siteId)
    const [revoked] = await tx
      .update(invitation)
      .set({ endedAt: sql`now()` })
      .where(and(eq(invitation.organisationId, organisationId), eq(invitation.id, invitationId), isOpen()))
      .returning({ email: invitation.email })
    if (!revoked) throw new HttpProblem(404, 'This invitation is not open any more. Reload the page.')
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'invitation',
      subjectId: invitationId,
      action: 'taken back',
      before: { email: revoked.email },
    })
  })
}

/** What the secret of a link opens. */
export async function readInvitation(database: Queries, secret: string): Promise<InvitationView> {
  const { row, name } = await findOpen(database, secret)
  return {
    organisation: name,
    role: row.role,
    email: row.email,
    hasAccount: (await findByEmail(database, row.email)) !== null,
  }
}

/**
 * Makes whoever has the secret a member: with a new account, or with theirs if they know its password. An invitation
 * works once.
 */
export async function acceptInvitation(
  database: Database,
  { key, name, password }: { key: string; name: string; password: string },
): Promise<Person> {
  const { row } = await findOpen(database, key)
  const known = await findByEmail(database, row.email)
  if (known && !(await verifyPassword(known.passwordHash, password)))
    throw new HttpProblem(422, 'This is not the password of your account.', {
      password: 'This is not the password of your account.',
    })
  if (!known) checkNew(name, password)
  const passwordHash = known ? null : await hashPassword(password)
  return database.transaction(async (tx) => {
    const [taken] = await tx
      .update(invitation)
      .set({ endedAt: sql`now()` })
      .where(and(eq(invitation.id, row.id), isOpen()))
      .returning({ id: invitation.id })
    if (!taken) throw new HttpProblem(410, GONE)
    const joining =
      known ?? (await tx.insert(person).values({ name, email: row.email, passwordHash: passwordHash! }).returning())[0]!
    await tx
      .insert(membership)
      .values({ organisationId: row.organisationId, personId: joining.id, role: row.role })
      .onConflictDoNothing()
    return { id: joining.id, name: joining.name, email: joining.email }
  })
}

function checkNew(name: string, password: string): void {
  const fields = {
    ...(name === '' ? { name: 'Type your name.' } : {}),
    ...(password.length < LEAST_PASSWORD ? { password: `Use at least ${LEAST_PASSWORD} characters.` } : {}),
  }
  const [message] = Object.values(fields)
  if (message) throw new HttpProblem(422, message, fields)
}

function isOpen() {
  return and(isNull(invitation.endedAt), gt(invitation.expiresAt, new Date()))
}

async function findOpen(database: Queries, secret: string) {
  const [found] = await database
    .select({ row: invitation, name: organisation.name })
    .from(invitation)
    .innerJoin(organisation, eq(organisation.id, invitation.organisationId))
    .where(and(eq(invitation.hash, hashSecret(secret)), isOpen()))
  if (!found) throw new HttpProblem(410, GONE)
  return found
}

async function findByEmail(database: Queries, email: string) {
  const [found] = await database
    .select()
    .from(person)
    .where(eq(sql`lower(${person.email})`, email.toLowerCase()))
  return found ?? null
}

async function isMember(database: Queries, organisationId: number, email: string): Promise<boolean> {
  const known = await findByEmail(database, email)
  if (!known) return false
  const own = and(eq(membership.organisationId, organisationId), eq(membership.personId, known.id))
  return (await database.select().from(membership).where(own)).length > 0
}

function viewOf(
  { id, email, role, createdAt, expiresAt }: typeof invitation.$inferSelect,
  by: string | null,
): OpenInvitation {
  return {
    id,
    email,
    role,
    person: by,
    createdAt: createdAt.toISOString(),
    expiresAt: expiresAt.toISOString(),
  }
}
