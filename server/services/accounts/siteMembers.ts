import { asc, eq } from 'drizzle-orm'
import type { Queries } from '../../database/connect'
import { membership, person, site } from '../../database/schema'

/** Members of a site's organisation, by name. */
export async function siteMembers(database: Queries, siteId: number): Promise<{ id: number; name: string }[]> {
  return database
    .select({ id: person.id, name: person.name })
    .from(person)
    .innerJoin(membership, eq(membership.personId, person.id))
    .innerJoin(site, eq(site.organisationId, membership.organisationId))
    .where(eq(site.id, siteId))
    .orderBy(asc(person.name))
}
