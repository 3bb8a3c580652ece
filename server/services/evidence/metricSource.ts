import type { Pool } from 'pg'
import type { CountedSource } from '../../../core/evidence/countedSteps'
import { HttpProblem } from '../HttpProblem'
import { METRIC_SOURCE } from './queries'

interface Place {
  pool: Pool
  siteId: number
}
/** What a metric counts, and the most that a visitor's sum counts as. */
export interface MetricCount {
  source: CountedSource
  cap: number | null
}

/**
 * What a site's metric counts, in its latest version.
 *
 * @throws HttpProblem 404 for a metric that is not the site's
 */
export async function metricCount({ pool, siteId }: Place, id: string): Promise<MetricCount> {
  const { rows } = await pool.query<MetricCount>(METRIC_SOURCE, [siteId, id])
  if (!rows[0]) throw new HttpProblem(404, 'This metric does not exist any more. Choose another one.')
  return rows[0]
}

/** What a metric counts; null where none is asked for. */
export async function metricSource(place: Place, id: string | undefined): Promise<CountedSource | null> {
  return id === undefined ? null : (await metricCount(place, id)).source
}
