import type { NewTokenView, TokenView } from '../../../shared/sites/replies'
import { and, desc, eq, inArray, isNull, lt, or, sql } from 'drizzle-orm'
import { pageOf, type Paged, type PageQuery } from '../../../shared/api/paging'
import { ROLES, type Role } from '../../../shared/accounts/account'
import { ROLE_OF_SCOPE, type TokenScope } from '../../../shared/accounts/token'
import type { Database, Queries } from '../../database/connect'
import { olderThan } from '../../database/olderThan'
import { person, site, token } from '../../database/schema'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { roleOnSite } from './accounts'
import { hashSecret, newSecret } from './sessions'

const PREFIX = 'vetch_'
const BEGINNING = 12

/** Makes a token for a program. Only its hash is kept: it can be read this once. */
export async function createToken(
  database: Database,
  siteId: number,
  personId: number | null,
  name: string,
  scope: TokenScope,
): Promise<NewTokenView> {
  const secret = PREFIX + newSecret()
  return database.transaction(async (tx) => {
    const [made] = await tx
      .insert(token)
      .values({
        siteId,
        name,
        scope,
        hash: hashSecret(secret),
        beginning: secret.slice(0, BEGINNING),
        createdBy: personId,
      })
      .returning()
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'token',
      subjectId: made!.id,
      action: 'made',
      after: { name, scope },
    })
    const { id, beginning, createdAt } = made!
    return { id, name, scope, beginning, person: null, createdAt: createdAt.toISOString(), usedAt: null, token: secret }
  })
}

/** A page of the tokens that open a site, the latest first. */
export async function listTokens(
  database: Queries,
  siteId: number,
  { after, limit }: PageQuery,
): Promise<Paged<TokenView>> {
  const rows = await database
    .select({ token, person: person.name })
    .from(token)
    .leftJoin(person, eq(person.id, token.createdBy))
    .where(and(eq(token.siteId, siteId), isNull(token.revokedAt), olderThan(token.id, after)))
    .orderBy(desc(token.id))
    .limit(limit + 1)
  const items = rows.map(({ token: { id, name, scope, beginning, createdAt, usedAt }, person: by }) => ({
    id,
    name,
    scope,
    beginning,
    person: by,
    createdAt: createdAt.toISOString(),
    usedAt: usedAt?.toISOString() ?? null,
  }))
  return pageOf(items, limit)
}

export async function revokeToken(
  database: Database,
  siteId: number,
  personId: number | null,
  tokenId: number,
): Promise<void> {
  await database.transaction(async (tx) => {
    const revoked = await tx
      .update(token)
      .set({ revokedAt: sql`now()` })
      .where(and(eq(token.siteId, siteId), eq(token.id, tokenId), isNull(token.revokedAt)))
      .returning({ name: token.name })
    if (revoked.length === 0) throw new HttpProblem(404, 'This token does not exist, or was taken back before.')
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'token',
      subjectId: tokenId,
      action: 'revoked',
      before: { name: revoked[0]!.name },
    })
  })
}

/**
 * What a token may do, and on which site; null for one that is none, and for one of somebody who is no member any more.
 * It does no more than whoever made it may do now. Notes that it was used.
 */
export async function findToken(
  database: Queries,
  secret: string,
): Promise<{ siteId: number; scope: TokenScope; role: Role } | null> {
  if (!secret.startsWith(PREFIX)) return null
  const [found] = await database
    .select({ id: token.id, siteId: token.siteId, scope: token.scope, createdBy: token.createdBy })
    .from(token)
    .where(and(eq(token.hash, hashSecret(secret)), isNull(token.revokedAt)))
  if (!found) return null
  const own = ROLE_OF_SCOPE[found.scope]
  // Those that the command line made are nobody's.
  const ofMaker = found.createdBy === null ? own : await roleOnSite(database, found.createdBy, found.siteId)
  if (!ofMaker) return null
  await database
    .update(token)
    .set({ usedAt: sql`now()` })
    .where(
      and(
        eq(token.siteId, found.siteId),
        eq(token.id, found.id),
        or(isNull(token.usedAt), lt(token.usedAt, sql`now() - interval '1 minute'`)),
      ),
    )
  const role = ROLES[Math.min(ROLES.indexOf(own), ROLES.indexOf(ofMaker))]!
  return { siteId: found.siteId, scope: found.scope, role }
}

/** Takes back the tokens that somebody made who leaves an organisation. */
export async function revokeTokensOf(database: Queries, organisationId: number, personId: number): Promise<void> {
  const sites = database.select({ id: site.id }).from(site).where(eq(site.organisationId, organisationId))
  await database
    .update(token)
    .set({ revokedAt: sql`now()` })
    .where(and(inArray(token.siteId, sites), eq(token.createdBy, personId), isNull(token.revokedAt)))
}
