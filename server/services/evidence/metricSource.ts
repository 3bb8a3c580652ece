import type { Pool } from 'pg'
import type { CountedSource } from '../../../core/evidence/countedSteps'
import { HttpProblem } from '../HttpProblem'
import { METRIC_SOURCE } from './plans'

/**
 * What a site's metric counts, in its latest version; null where none is asked for.
 *
 * @throws HttpProblem 404 for a metric that is not the site's
 */
export async function metricSource(
  { pool, siteId }: { pool: Pool; siteId: number },
  id: string | undefined,
): Promise<CountedSource | null> {
  if (id === undefined) return null
  const { rows } = await pool.query<{ source: CountedSource }>(METRIC_SOURCE, [siteId, id])
  if (!rows[0]) throw new HttpProblem(404, 'This metric does not exist any more. Choose another one.')
  return rows[0].source
}
