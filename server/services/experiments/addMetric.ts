import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { max, and, eq } from 'drizzle-orm'
import type PgBoss from 'pg-boss'
import type { SheetMetric } from '../../../core/sheet/content'
import { MOST_METRICS } from '../../../shared/experiments/sheetParts'
import type { Database, Queries } from '../../database/connect'
import { experiment, experimentMetric } from '../../database/schema'
import { requestRefold } from '../../jobs/backgroundJobs'
import { announce } from '../../news/announce'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { versionFor } from '../metrics/metricVersions'
import { compileSiteFile } from '../sites/compileSiteFile'
import { findSite } from '../sites/sites'
import { findSheet, lockSheet, type Target } from './sheet'

/** Adds a secondary metric to a started experiment. It is computed in the background for the visitors that were. */
export async function addMetricToStarted(
  database: Database,
  queue: PgBoss,
  target: Target,
  version: number,
  input: SheetMetric,
): Promise<ExperimentSheet> {
  const { siteId, experimentId, personId } = target
  return database.transaction(async (tx) => {
    const before = await lockSheet(tx, target)
    if (before.version !== version)
      throw new HttpProblem(
        409,
        'Somebody else has changed this sheet in the meantime. Reload it, then add the metric again.',
      )
    if (before.state === 'draft')
      throw new HttpProblem(409, 'This experiment has not started: add the metric on its sheet.')
    await checkEventsAreThere(tx, before)
    if (before.metrics.length >= MOST_METRICS) throw new HttpProblem(422, `At most ${MOST_METRICS} metrics.`)
    const metricVersionId = await versionFor(tx, siteId, experimentId, input)
    if (before.metrics.some(({ versionId }) => versionId === metricVersionId))
      throw new HttpProblem(409, 'This metric is on the sheet already. Choose another.')
    const [last] = await tx
      .select({ position: max(experimentMetric.position) })
      .from(experimentMetric)
      .where(and(eq(experimentMetric.siteId, siteId), eq(experimentMetric.experimentId, experimentId)))
    await tx.insert(experimentMetric).values({
      siteId,
      experimentId,
      metricVersionId,
      role: 'secondary',
      direction: input.direction,
      position: (last?.position ?? 0) + 1,
    })
    await tx
      .update(experiment)
      .set({ version: before.version + 1 })
      .where(and(eq(experiment.siteId, siteId), eq(experiment.id, experimentId)))
    await announce(tx, siteId, { kind: 'sheet', experiment: experimentId, version: before.version + 1 })
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'experiment',
      subjectId: experimentId,
      action: 'metric added',
      after: { metric: input.name },
    })
    await compileSiteFile(tx, siteId)
    const title = `Computing “${input.name}” for ${before.name}`
    await requestRefold(tx, queue, siteId, experimentId, title, [metricVersionId])
    return findSheet(tx, siteId, experimentId)
  })
}

/** A metric that nobody asked for before is measured from events, and wrong where some of them are gone. */
async function checkEventsAreThere(tx: Queries, { siteId, startedAt }: ExperimentSheet): Promise<void> {
  const { rawSince } = await findSite(tx, siteId)
  if (!rawSince || !startedAt || Date.parse(startedAt) >= rawSince.getTime()) return
  const day = rawSince.toISOString().slice(0, 10)
  throw new HttpProblem(
    409,
    `The events before ${day} have been deleted, and this experiment started earlier. No metric can be added any more.`,
  )
}
