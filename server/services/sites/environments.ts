import type { EnvironmentView } from '../../../shared/traffic/replies'
import { randomBytes } from 'node:crypto'
import { and, asc, eq } from 'drizzle-orm'
import type { EnvironmentInput } from '../../../shared/sites/environment'
import type { Database, Queries } from '../../database/connect'
import { environmentShare, site } from '../../database/schema'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { findSheet, type Target } from '../experiments/sheet'
import { compileSiteFile } from './compileSiteFile'
import { findSite } from './sites'

/** Other places of a site's pages, such as staging, with what each of them shows. */
export async function listEnvironments(database: Queries, siteId: number): Promise<EnvironmentView[]> {
  const rows = await database.select().from(site).where(eq(site.environmentOf, siteId)).orderBy(asc(site.id))
  const shares = await database.select().from(environmentShare).where(eq(environmentShare.siteId, siteId))
  return rows.map(({ id, name, address, key }) => ({
    id,
    name,
    address,
    key,
    shown: shares
      .filter(({ environmentId }) => environmentId === id)
      .map(({ experimentId, share }) => ({ experiment: experimentId, share })),
  }))
}

/**
 * Adds an environment: a site of its own for everything that is counted, which shows experiments of this one. Pages of
 * its origin need no other script line.
 */
export async function createEnvironment(
  database: Database,
  siteId: number,
  personId: number | null,
  input: EnvironmentInput,
): Promise<EnvironmentView[]> {
  return database.transaction(async (tx) => {
    const owner = await findSite(tx, siteId)
    const address = new URL(input.address).origin
    if (owner.environmentOf !== null) throw new HttpProblem(409, 'An environment has no environments of its own.')
    const same = await tx
      .select({ name: site.name })
      .from(site)
      .where(and(eq(site.organisationId, owner.organisationId), eq(site.address, address)))
    if (same[0]) {
      const message = `${address} is here already, as ${same[0].name}.`
      throw new HttpProblem(409, message, { address: message })
    }
    const key = randomBytes(8).toString('base64url').replace(/[-_]/g, 'x')
    const [made] = await tx
      .insert(site)
      .values({
        ...inherited(owner),
        name: `${owner.name}, ${input.name}`,
        address,
        key,
        environmentOf: siteId,
      })
      .returning()
    await compileSiteFile(tx, made!.id)
    await compileSiteFile(tx, siteId)
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'environment',
      subjectId: made!.id,
      action: 'added',
      after: { name: input.name, address },
    })
    return listEnvironments(tx, siteId)
  })
}

/** What an environment begins with: how its site counts, and what it asks visitors for. */
function inherited(owner: typeof site.$inferSelect) {
  return {
    organisationId: owner.organisationId,
    timeZone: owner.timeZone,
    currency: owner.currency,
    asksConsent: owner.asksConsent,
    respectsDoNotTrack: owner.respectsDoNotTrack,
    allowsScripts: owner.allowsScripts,
    parameters: owner.parameters,
    attributes: owner.attributes,
    eventDetails: owner.eventDetails,
  }
}

/** Makes an environment a site of its own, which shows no experiment of this one any more; what it counted stays. */
export async function detachEnvironment(
  database: Database,
  siteId: number,
  personId: number | null,
  environmentId: number,
): Promise<EnvironmentView[]> {
  return database.transaction(async (tx) => {
    await findEnvironment(tx, siteId, environmentId)
    await tx
      .delete(environmentShare)
      .where(and(eq(environmentShare.siteId, siteId), eq(environmentShare.environmentId, environmentId)))
    await tx.update(site).set({ environmentOf: null }).where(eq(site.id, environmentId))
    // The site before its environment, as everybody compiles them.
    await compileSiteFile(tx, siteId)
    await compileSiteFile(tx, environmentId)
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'environment',
      subjectId: environmentId,
      action: 'detached',
    })
    return listEnvironments(tx, siteId)
  })
}

/** Shows an experiment in an environment to a share of the visitors there, be it a draft; 0 for to nobody. */
export async function showInEnvironment(
  database: Database,
  { siteId, experimentId, personId }: Target,
  { environment, share }: { environment: number; share: number },
): Promise<EnvironmentView[]> {
  return database.transaction(async (tx) => {
    const { state } = await findSheet(tx, siteId, experimentId)
    const { name } = await findEnvironment(tx, siteId, environment)
    if (state === 'ended') throw new HttpProblem(409, 'This experiment has ended. Make a copy to show it again.')
    await tx
      .insert(environmentShare)
      .values({ siteId, environmentId: environment, experimentId, share })
      .onConflictDoUpdate({
        target: [environmentShare.environmentId, environmentShare.experimentId],
        set: { share },
        setWhere: eq(environmentShare.siteId, siteId),
      })
    await compileSiteFile(tx, environment)
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'experiment',
      subjectId: experimentId,
      action: 'shown',
      after: { environment: name, share },
      words: share === 0 ? `shown to nobody on ${name}` : `shown to ${share / 100} % of the visitors of ${name}`,
    })
    return listEnvironments(tx, siteId)
  })
}

async function findEnvironment(tx: Queries, siteId: number, environmentId: number) {
  const [found] = await tx
    .select()
    .from(site)
    .where(and(eq(site.id, environmentId), eq(site.environmentOf, siteId)))
    .for('no key update')
  if (!found) throw new HttpProblem(404, 'This environment does not exist on this site.')
  return found
}
