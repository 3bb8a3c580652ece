import { PLAN } from './metrics'
import { eq } from 'drizzle-orm'
import type { Database } from '../server/database/connect'
import { experiment } from '../server/database/schema'
import { fillSheet } from '../server/services/experiments/changeSheet'
import { createExperiment } from '../server/services/experiments/experiments'
import type { SheetMetric } from '../core/sheet/content'

/**
 * An experiment of two variants on the home page that has run for some time: its numbers begin at a moment that only a
 * clock turned back could give.
 *
 * @param startedAt - ms since 1970
 * @returns its id
 */
export async function startedExperiment(
  database: Database,
  siteId: number,
  startedAt: number,
  ...metrics: SheetMetric[]
): Promise<number> {
  const { id } = await createExperiment(database, siteId, null, 'Started')
  await fillSheet(
    database,
    { siteId, experimentId: id, personId: null },
    { plan: PLAN, metrics, pageRules: [{ match: 'exact', value: '/' }] },
  )
  await database
    .update(experiment)
    .set({ state: 'running', startedAt: new Date(startedAt) })
    .where(eq(experiment.id, id))
  return id
}
