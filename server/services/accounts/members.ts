import type { MemberView } from '../../../shared/accounts/memberReplies'
import { and, asc, eq, gt } from 'drizzle-orm'
import type { Role } from '../../../shared/accounts/account'
import { pageOf, type Paged, type PageQuery } from '../../../shared/api/paging'
import type { Database, Queries } from '../../database/connect'
import { membership, person } from '../../database/schema'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { findSite } from '../sites/sites'
import { revokeTokensOf } from './tokens'

/** Who changes something about the members of a site's organisation. */
interface Change {
  siteId: number
  personId: number | null
  memberId: number
}

/** A page of who belongs to the organisation of a site, whoever came first first. */
export async function listMembers(
  database: Queries,
  siteId: number,
  self: number | null,
  { after, limit }: PageQuery,
): Promise<Paged<MemberView>> {
  const { organisationId } = await findSite(database, siteId)
  const rows = await database
    .select({ id: person.id, name: person.name, email: person.email, role: membership.role })
    .from(membership)
    .innerJoin(person, eq(person.id, membership.personId))
    .where(and(eq(membership.organisationId, organisationId), after === undefined ? undefined : gt(person.id, after)))
    .orderBy(asc(person.id))
    .limit(limit + 1)
  return pageOf(
    rows.map((row) => ({ ...row, isSelf: row.id === self })),
    limit,
  )
}

/** Gives a member another role. An organisation always has an owner. */
export async function changeRole(database: Database, change: Change, role: Role): Promise<MemberView> {
  const member = await alter(database, change, role)
  return { ...member, role, isSelf: member.id === change.personId }
}

/** Takes a member out of the organisation, with their tokens: it is over with the next thing that they ask for. */
export async function removeMember(database: Database, change: Change): Promise<void> {
  await alter(database, change, null)
}

async function alter(database: Database, { siteId, personId, memberId }: Change, role: Role | null) {
  return database.transaction(async (tx) => {
    const { organisationId } = await findSite(tx, siteId)
    // Two owners who demote each other at once must not both succeed.
    const members = await tx
      .select()
      .from(membership)
      .where(eq(membership.organisationId, organisationId))
      .for('no key update')
    const before = members.find((each) => each.personId === memberId)
    if (!before) throw new HttpProblem(404, 'This person is not a member any more. Reload the page.')
    const isLastOwner =
      before.role === 'owner' && members.filter((each) => each.role === 'owner').length === 1 && role !== 'owner'
    if (isLastOwner) throw new HttpProblem(409, 'An organization needs an owner. Make somebody else an owner first.')
    const own = and(eq(membership.organisationId, organisationId), eq(membership.personId, memberId))
    if (role) await tx.update(membership).set({ role }).where(own)
    else {
      await tx.delete(membership).where(own)
      await revokeTokensOf(tx, organisationId, memberId)
    }
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'member',
      subjectId: memberId,
      action: role ? 'changed' : 'removed',
      before: { role: before.role },
      ...(role ? { after: { role } } : {}),
    })
    const [named] = await tx
      .select({ id: person.id, name: person.name, email: person.email })
      .from(person)
      .where(eq(person.id, memberId))
    return named!
  })
}
