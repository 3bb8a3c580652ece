import { sql } from 'drizzle-orm'
import type { ElementTold } from '../../../core/drift/toldDrift'
import type { Queries } from '../../database/connect'
import { DAY } from '../../../core/time/units'

/**
 * What browsers have told within a day of the elements of an experiment's edits: those of visitors who take part in it
 * and are in its numbers. Others may have another page before them.
 */
export async function toldElements(
  database: Queries,
  siteId: number,
  experimentId: number,
  now: Date,
): Promise<ElementTold[]> {
  const from = new Date(now.getTime() - DAY).toISOString()
  const { rows } = await database.execute<ElementTold & Record<string, unknown>>(sql`
    SELECT edit, count(*)::int AS looked, count(*) FILTER (WHERE is_lost)::int AS lost,
      count(*) FILTER (WHERE is_by_clues AND NOT is_lost)::int AS "byClues"
    FROM (
      SELECT l.edit, e.visitor_id, bool_and(e.properties->'lost' ? l.edit) AS is_lost,
        bool_and((e.properties->'byClues' || (e.properties->'lost')) ? l.edit) AS is_by_clues
      FROM event e CROSS JOIN jsonb_array_elements_text(e.properties->'looked') AS l(edit)
      WHERE e.site_id = ${siteId} AND e.type = 'drift' AND e.experiment_id = ${experimentId}
        AND EXISTS (
          SELECT FROM exposure x WHERE x.site_id = ${siteId} AND x.experiment_id = ${experimentId}
            AND x.visitor_id = e.visitor_id AND x.left_out IS NULL)
        AND e.occurred_at >= ${from} AND e.occurred_at <= ${now.toISOString()}
      GROUP BY l.edit, e.visitor_id
    ) of_visitors GROUP BY edit ORDER BY edit`)
  return rows
}
