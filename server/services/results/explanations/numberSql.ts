import { text } from '../../statements/literals'

/** Statements that read what a number is computed from, as somebody with access to the database would type them. */

export interface Where {
  siteId: number
  id: number
  /** Last day of first exposures that count for the metric; null for all of them. */
  lastDay: string | null
}

/** Visitors of each arm. */
export function visitorsSql({ siteId, id, lastDay }: Where): string {
  return `SELECT variant, sum(visitors) AS visitors
FROM exposure_count
WHERE site_id = ${siteId} AND experiment_id = ${id} AND dimension = 'day'${upTo('value', lastDay)}
GROUP BY variant ORDER BY variant`
}

/** Visitors and sums of each arm of a metric. Visitors without a row in the statistics have zeros. */
export function sumsSql(where: Where, metricVersionId: number): string {
  return `SELECT c.variant, c.visitors, sum(s.sum) AS sum, sum(s.squares) AS squares,
  sum(s.denominator_sum) AS denominator_sum, sum(s.denominator_squares) AS denominator_squares,
  sum(s.denominator_products) AS products
FROM (
  ${visitorsSql(where).replaceAll('\n', '\n  ')}
) c LEFT JOIN statistic s ON s.variant = c.variant AND s.dimension = 'day'
  AND s.site_id = ${where.siteId} AND s.experiment_id = ${where.id} AND s.metric_version_id = ${metricVersionId}${upTo('s.value', where.lastDay)}
GROUP BY c.variant, c.visitors ORDER BY c.variant`
}

/** Sums of those with an earlier visit, with what they did before. */
export function pastSql({ siteId, id, lastDay }: Where, metricVersionId: number): string {
  return `SELECT variant, sum(visitors) AS visitors, sum(sum) AS sum, sum(squares) AS squares,
  sum(past_sum) AS past_sum, sum(past_squares) AS past_squares, sum(past_products) AS products
FROM statistic
WHERE site_id = ${siteId} AND experiment_id = ${id} AND metric_version_id = ${metricVersionId}
  AND dimension = 'day' AND has_past${upTo('value', lastDay)}
GROUP BY variant ORDER BY variant`
}

function upTo(column: string, lastDay: string | null): string {
  return lastDay === null ? '' : ` AND ${column} <= ${text(lastDay)}`
}
