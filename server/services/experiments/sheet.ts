import { and, asc, desc, eq, inArray, isNull } from 'drizzle-orm'
import { preflight } from '../../../core/preflight/preflight'
import type { ExperimentSheet, VariantView } from '../../../shared/experiment'
import type { Queries } from '../../database/connect'
import { edit, experiment, experimentMetric, metric, site, variant } from '../../database/schema'
import { HttpProblem } from '../HttpProblem'

type ExperimentRow = typeof experiment.$inferSelect

/** The sheets of a site, the latest first. */
export async function listSheets(database: Queries, siteId: number): Promise<ExperimentSheet[]> {
  const rows = await database
    .select()
    .from(experiment)
    .where(and(eq(experiment.siteId, siteId), isNull(experiment.deletedAt)))
    .orderBy(desc(experiment.id))
  return readSheets(database, siteId, rows)
}

/** One sheet, or a refusal when the site has no such experiment. */
export async function findSheet(database: Queries, siteId: number, experimentId: number): Promise<ExperimentSheet> {
  const rows = await database
    .select()
    .from(experiment)
    .where(and(eq(experiment.siteId, siteId), eq(experiment.id, experimentId), isNull(experiment.deletedAt)))
  const [sheet] = await readSheets(database, siteId, rows)
  if (!sheet) throw new HttpProblem(404, 'This experiment does not exist on this site. It may have been deleted.')
  return sheet
}

async function readSheets(database: Queries, siteId: number, rows: ExperimentRow[]): Promise<ExperimentSheet[]> {
  if (rows.length === 0) return []
  const ids = rows.map((row) => row.id)
  const [owner] = await database.select().from(site).where(eq(site.id, siteId))
  const variants = await database
    .select()
    .from(variant)
    .where(inArray(variant.experimentId, ids))
    .orderBy(asc(variant.position))
  const edits = await database.select().from(edit).where(inArray(edit.experimentId, ids)).orderBy(asc(edit.position))
  const metrics = await database
    .select({
      experimentId: experimentMetric.experimentId,
      view: {
        id: metric.id,
        name: metric.name,
        kind: metric.kind,
        source: metric.source,
        denominator: metric.denominator,
        direction: experimentMetric.direction,
        role: experimentMetric.role,
        limit: experimentMetric.harmLimit,
      },
    })
    .from(experimentMetric)
    .innerJoin(metric, eq(metric.id, experimentMetric.metricId))
    .where(inArray(experimentMetric.experimentId, ids))
    .orderBy(asc(experimentMetric.position))

  return rows.map((row) => {
    const ownVariants: VariantView[] = variants
      .filter((each) => each.experimentId === row.id)
      .map(({ position, name, weight }) => ({
        name,
        weight,
        edits: edits
          .filter((each) => each.experimentId === row.id && each.variantPosition === position)
          .map((each) => each.content),
      }))
    const ownMetrics = metrics.filter((each) => each.experimentId === row.id).map(({ view }) => view)
    const { id, name, hypothesis, state, version, pageRules, share, plan } = row
    return {
      ...{ id, siteId, name, hypothesis, state, version, pageRules, share, plan },
      currency: owner!.currency,
      timeZone: owner!.timeZone,
      variants: ownVariants,
      metrics: ownMetrics,
      createdAt: row.createdAt.toISOString(),
      startedAt: row.startedAt?.toISOString() ?? null,
      endedAt: row.endedAt?.toISOString() ?? null,
      preflight:
        state === 'draft'
          ? preflight({
              siteAddress: owner!.address,
              pageRules,
              share,
              variants: ownVariants,
              metrics: ownMetrics,
              plan,
              isInstalled: owner!.firstReportAt !== null,
            })
          : [],
    }
  })
}
