import type { EvidenceChoices, EventsView } from '../../../shared/evidence/replies'
import { and, asc, desc, eq, isNotNull, isNull, lte, or, sql } from 'drizzle-orm'
import { siteDays } from '../../../core/time/siteDay'
import { isMoney } from '../../../shared/formats'
import type { Queries } from '../../database/connect'
import { experiment, metric, metricVersion, refusal, variant } from '../../database/schema'
import { findSite } from '../sites/sites'
import type { EvidenceThread } from './askEvidence'

/** What reports of a site can be asked by. */
export async function readEvidenceChoices(
  database: Queries,
  evidence: EvidenceThread,
  siteId: number,
  now: Date,
): Promise<EvidenceChoices> {
  const { timeZone, currency, collection, firstReportAt } = await findSite(database, siteId)
  const today = siteDays(timeZone)(now.getTime())
  return {
    ...(await evidence.ask(siteId, 'values', { today })),
    currency,
    behaviorShare: collection.behavior.share,
    hasReported: firstReportAt !== null,
    metrics: await siteMetrics(database, siteId),
    variants: await variantsOf(database, siteId),
  }
}

/** Metrics of a site, each as its latest version says. */
export async function siteMetrics(database: Queries, siteId: number): Promise<EvidenceChoices['metrics']> {
  const rows = await database
    .selectDistinctOn([metric.id], {
      id: metric.id,
      name: metric.name,
      kind: metricVersion.kind,
      source: metricVersion.source,
    })
    .from(metric)
    .innerJoin(metricVersion, and(eq(metricVersion.metricId, metric.id), eq(metricVersion.siteId, siteId)))
    .where(eq(metric.siteId, siteId))
    .orderBy(asc(metric.id), desc(metricVersion.version))
  return rows.map((each) => ({ ...each, isMoney: isMoney(each) })).sort((a, b) => a.name.localeCompare(b.name, 'en'))
}

async function variantsOf(database: Queries, siteId: number): Promise<EvidenceChoices['variants']> {
  return database
    .select({
      experimentId: experiment.id,
      experiment: experiment.name,
      position: variant.position,
      variant: variant.name,
    })
    .from(experiment)
    .innerJoin(variant, eq(variant.experimentId, experiment.id))
    .where(
      and(
        eq(experiment.siteId, siteId),
        isNotNull(experiment.startedAt),
        isNull(experiment.deletedAt),
        // Whoever is served a personalization is so at its first position, whichever wording it is.
        or(eq(experiment.purpose, 'test'), lte(variant.position, 1)),
      ),
    )
    .orderBy(desc(experiment.startedAt), asc(variant.position))
}

/** Reasons are few; what was counted before they were is told as far as this. */
const MOST_REASONS = 100

/** What intake refused within some days, by reason. */
export async function readRefusals(
  database: Queries,
  siteId: number,
  { from, to }: { from: string; to: string },
): Promise<EventsView['refusals']> {
  const rows = await database
    .select({
      reason: refusal.reason,
      events: sql<number>`sum(${refusal.events})::float8`,
      lastDay: sql<string>`max(${refusal.day})::text`,
    })
    .from(refusal)
    .where(and(eq(refusal.siteId, siteId), sql`${refusal.day} BETWEEN ${from} AND ${to}`))
    .groupBy(refusal.reason)
    .orderBy(desc(sql`sum(${refusal.events})`))
    .limit(MOST_REASONS)
  return rows
}
