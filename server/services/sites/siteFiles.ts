import { and, asc, eq, isNotNull, sql } from 'drizzle-orm'
import { BUCKETS } from '../../../core/assignment/assignment'
import type { SiteFile } from '../../../shared/delivery/siteFile'
import type { Queries } from '../../database/connect'
import { experiment, rollout, site, siteFile, variant } from '../../database/schema'
import type { IntakeSite, StartedPlan } from '../../intake/collect'
import { findPersonKey } from './personKey'
import { periodsOf } from '../traffic/periods'
import { parseNetworks } from '../../http/clientAddress'

/** The compiled site file of a key, or null when no site has it. */
export async function findSiteFile(database: Queries, key: string): Promise<SiteFile | null> {
  const [found] = await database
    .select({ content: siteFile.content })
    .from(siteFile)
    .innerJoin(site, eq(site.id, siteFile.siteId))
    .where(eq(site.key, key))
  return found?.content ?? null
}

/** What changes whenever the site file, or anything else that intake needs to know of a site, does. */
export async function findSiteVersions(
  database: Queries,
  key: string,
): Promise<{ file: string; intake: string } | null> {
  const { rows } = await database.execute<{ file: string; intake: string }>(sql`
    SELECT f.version::text AS file, concat_ws(' ', f.version, s.xmin, k.xmin) AS intake
    FROM site s JOIN site_file f ON f.site_id = s.id
    LEFT JOIN person_key k ON k.site_id = coalesce(s.environment_of, s.id)
    WHERE s.key = ${key}`)
  return rows[0] ?? null
}

/** What intake needs to know of the site of a key. */
export async function findIntakeSite(database: Queries, key: string): Promise<IntakeSite | null> {
  const [found] = await database
    .select({ own: site, parameters: siteFile.content })
    .from(site)
    .innerJoin(siteFile, eq(siteFile.siteId, site.id))
    .where(eq(site.key, key))
  if (!found) return null
  const { id, address, currency, largestAmount, hosts, ownNetworks, firstReportAt } = found.own
  return {
    id,
    address,
    currency,
    largestAmount,
    parameters: new Set(found.parameters.parameters),
    attributes: new Set(found.own.attributes),
    eventDetails: new Set(found.own.eventDetails),
    hosts,
    ownNetworks: parseNetworks(ownNetworks),
    assignments:
      found.own.environmentOf === null ? await startedAssignments(database, id) : shownAssignments(found.parameters),
    personKey: await findPersonKey(database, id),
    recordingShare: found.own.collection.recording.share,
    hasReported: firstReportAt !== null,
  }
}

/** Of an environment: whatever it shows at the moment. What it showed before counts nowhere. */
function shownAssignments({ entries }: SiteFile): Map<number, StartedPlan> {
  return new Map(
    entries.flatMap((entry): [number, StartedPlan][] => (entry.kind === 'experiment' ? [[entry.id, entry]] : [])),
  )
}

async function startedAssignments(database: Queries, siteId: number): Promise<Map<number, StartedPlan>> {
  const rows = await database
    .select({
      id: experiment.id,
      salt: experiment.salt,
      share: experiment.share,
      terms: experiment.terms,
      weight: variant.weight,
    })
    .from(experiment)
    .innerJoin(variant, eq(variant.experimentId, experiment.id))
    .where(and(eq(experiment.siteId, siteId), isNotNull(experiment.startedAt)))
    .orderBy(asc(experiment.id), asc(variant.position))
  const plans = new Map<number, StartedPlan & { weights: number[] }>()
  const periods = await periodsOf(database, siteId, [...new Set(rows.map(({ id }) => id))])
  for (const { id, salt, share, terms, weight } of rows) {
    // Of a group its buckets count, and not those of the share.
    const plan = plans.get(id) ?? {
      salt,
      share: terms.group === null ? share : BUCKETS,
      weights: [],
      ...(terms.unit === 'person' ? { unit: 'person' as const } : {}),
      ...(periods.has(id) ? { periods: periods.get(id)!.map(({ weights }) => weights) } : {}),
    }
    plan.weights.push(weight)
    plans.set(id, plan)
  }
  const rollouts = await database
    .select({ id: rollout.id, salt: rollout.salt, share: rollout.share })
    .from(rollout)
    .where(eq(rollout.siteId, siteId))
  for (const { id, ...plan } of rollouts) plans.set(id, { ...plan, weights: [1] })
  return plans
}
