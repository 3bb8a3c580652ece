import { sql } from 'drizzle-orm'
import type { Queries } from '../../database/connect'
import { experimentMetric } from '../../database/schema'

/**
 * Has an experiment measured by every metric of its site, as it is defined now: those that are on its sheet keep their
 * roles, all others are secondary, and what is better is as it was said on the latest sheet that they are on.
 */
export async function measureEverything(
  tx: Queries,
  { siteId, id: experimentId }: { siteId: number; id: number },
): Promise<void> {
  await tx.execute(sql`
    INSERT INTO ${experimentMetric} (site_id, experiment_id, metric_version_id, role, direction, position)
    SELECT ${siteId}, ${experimentId}, latest.id, 'secondary', coalesce(said.direction, 'up'),
      (SELECT coalesce(max(position), 0) FROM experiment_metric
        WHERE site_id = ${siteId} AND experiment_id = ${experimentId}) + row_number() OVER (ORDER BY latest.name)
    FROM (
      SELECT DISTINCT ON (m.id) m.id AS metric_id, m.name, v.id
      FROM metric m JOIN metric_version v ON v.site_id = m.site_id AND v.metric_id = m.id
      WHERE m.site_id = ${siteId}
      ORDER BY m.id, v.version DESC
    ) AS latest
    LEFT JOIN LATERAL (
      SELECT em.direction
      FROM experiment_metric em JOIN metric_version v ON v.id = em.metric_version_id
      WHERE em.site_id = ${siteId} AND v.metric_id = latest.metric_id
      ORDER BY em.experiment_id DESC LIMIT 1
    ) AS said ON true
    WHERE NOT EXISTS (
      SELECT 1 FROM experiment_metric em JOIN metric_version v ON v.id = em.metric_version_id
      WHERE em.site_id = ${siteId} AND em.experiment_id = ${experimentId} AND v.metric_id = latest.metric_id
    )`)
}
