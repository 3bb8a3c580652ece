import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { and, eq } from 'drizzle-orm'
import type { SheetMetric } from '../../../core/sheet/content'
import type { Queries } from '../../database/connect'
import { experimentMetric } from '../../database/schema'
import { dropUnusedMetrics, versionFor } from '../metrics/metricVersions'

/** Makes a sheet's metrics what was sent, in that order. */
export async function saveMetrics(tx: Queries, sheet: ExperimentSheet, metrics: readonly SheetMetric[]): Promise<void> {
  const { id: experimentId, siteId } = sheet
  const versions: number[] = []
  for (const metric of metrics) versions.push(await versionFor(tx, siteId, experimentId, metric))
  await tx
    .delete(experimentMetric)
    .where(and(eq(experimentMetric.siteId, siteId), eq(experimentMetric.experimentId, experimentId)))
  const rows = metrics.map(({ role, direction, limit }, position) => ({
    siteId,
    experimentId,
    metricVersionId: versions[position]!,
    role,
    direction,
    harmLimit: role === 'guardrail' ? limit : null,
    position,
  }))
  if (rows.length > 0) await tx.insert(experimentMetric).values(rows)
  const kept = new Set(metrics.map(({ id }) => id))
  await dropUnusedMetrics(
    tx,
    siteId,
    sheet.metrics.map(({ id }) => id).filter((id) => !kept.has(id)),
  )
}
