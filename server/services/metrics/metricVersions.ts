import { and, desc, eq, inArray, isNotNull, ne, or, sql } from 'drizzle-orm'
import type { SheetMetric } from '../../../core/sheet/content'
import { isSame } from '../../../core/sheet/isSame'
import type { Queries } from '../../database/connect'
import { experiment, experimentMetric, metric, metricVersion } from '../../database/schema'
import { HttpProblem } from '../HttpProblem'

type Definition = Pick<SheetMetric, 'kind' | 'source' | 'denominator' | 'cap' | 'windowDays'>

/**
 * The version of a site's metric that measures what is asked for. A definition that another experiment uses, or one
 * that was started, is left as it is and gets a new version; else it is changed in place.
 *
 * @returns id of the version
 */
export async function versionFor(
  tx: Queries,
  siteId: number,
  experimentId: number,
  input: SheetMetric,
): Promise<number> {
  const definition: Definition = {
    kind: input.kind,
    source: input.source,
    denominator: input.kind === 'ratio' ? input.denominator : null,
    cap: input.kind === 'conversion' ? null : (input.cap ?? null),
    windowDays: input.windowDays ?? null,
  }
  const known = await latestVersion(tx, siteId, input.id)
  if (!known) return addMetric(tx, siteId, input, definition)
  await tx
    .update(metric)
    .set({ name: input.name })
    .where(and(eq(metric.siteId, siteId), eq(metric.id, known.metricId)))
  if (isSameDefinition(known, definition)) return known.id
  if (!(await isUsedElsewhere(tx, siteId, experimentId, known.id))) {
    await tx
      .update(metricVersion)
      .set(definition)
      .where(and(eq(metricVersion.siteId, siteId), eq(metricVersion.id, known.id)))
    return known.id
  }
  const [made] = await tx
    .insert(metricVersion)
    .values({ siteId, metricId: known.metricId, version: known.version + 1, ...definition })
    .returning({ id: metricVersion.id })
  return made!.id
}

async function addMetric(
  tx: Queries,
  siteId: number,
  { id, name }: SheetMetric,
  definition: Definition,
): Promise<number> {
  const made = await tx.insert(metric).values({ id, siteId, name }).onConflictDoNothing().returning({ id: metric.id })
  if (made.length === 0) throw new HttpProblem(409, 'There is a metric with this id elsewhere. Add it with another id.')
  const [version] = await tx
    .insert(metricVersion)
    .values({ siteId, metricId: id, version: 1, ...definition })
    .returning({ id: metricVersion.id })
  return version!.id
}

async function latestVersion(tx: Queries, siteId: number, metricId: string) {
  const [found] = await tx
    .select()
    .from(metricVersion)
    .where(and(eq(metricVersion.siteId, siteId), eq(metricVersion.metricId, metricId)))
    .orderBy(desc(metricVersion.version))
    .limit(1)
  return found ?? null
}

function isSameDefinition(one: Definition, other: Definition): boolean {
  return (
    one.kind === other.kind &&
    isSame(one.source, other.source) &&
    isSame(one.denominator, other.denominator) &&
    one.cap === other.cap &&
    (one.windowDays ?? null) === (other.windowDays ?? null)
  )
}

/** Whether a version is one that a started experiment, or another than this one, is measured by. */
async function isUsedElsewhere(tx: Queries, siteId: number, experimentId: number, versionId: number): Promise<boolean> {
  const [found] = await tx
    .select({ id: experiment.id })
    .from(experimentMetric)
    .innerJoin(experiment, eq(experiment.id, experimentMetric.experimentId))
    .where(
      and(
        eq(experimentMetric.siteId, siteId),
        eq(experimentMetric.metricVersionId, versionId),
        or(ne(experiment.id, experimentId), isNotNull(experiment.startedAt)),
      ),
    )
    .limit(1)
  return found !== undefined
}

/** Takes away metrics that no experiment refers to any more, in any of their versions, and no hypothesis. */
export async function dropUnusedMetrics(tx: Queries, siteId: number, metricIds: readonly string[]): Promise<void> {
  if (metricIds.length === 0) return
  const used = tx
    .select({ id: metricVersion.metricId })
    .from(metricVersion)
    .innerJoin(experimentMetric, eq(experimentMetric.metricVersionId, metricVersion.id))
    .where(eq(metricVersion.siteId, siteId))
  await tx
    .delete(metric)
    .where(
      and(
        eq(metric.siteId, siteId),
        inArray(metric.id, [...metricIds]),
        sql`${metric.id} NOT IN (${used})`,
        sql`${metric.id} NOT IN (SELECT h.metric_id FROM hypothesis h WHERE h.site_id = ${siteId} AND h.metric_id IS NOT NULL)`,
      ),
    )
}
