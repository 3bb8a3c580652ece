import { sql, type SQL } from 'drizzle-orm'

/** SQL that says more than the query builder can. Every statement names the site. */

/**
 * What each variant of an ended experiment achieved by its primary metric, at the last look, with its interval by the plan's
 * rule. Where the plan spends its error until its end, both are adjusted for having stopped.
 */
export const PAST_LOOKS = (siteId: number): SQL => sql`
  SELECT DISTINCT ON (l.experiment_id, l.variant)
    coalesce(p.adjusted_lift, l.lift) AS lift,
    coalesce(p.adjusted_low, l.fixed_low) AS low,
    coalesce(p.adjusted_high, l.fixed_high) AS high,
    CASE x.plan->>'rule' WHEN 'fixed' THEN l.fixed_low ELSE coalesce(p.adjusted_low, l.low) END AS "decisiveLow",
    CASE x.plan->>'rule' WHEN 'fixed' THEN l.fixed_high ELSE coalesce(p.adjusted_high, l.high) END AS "decisiveHigh",
    (x.plan->>'alpha')::float8 AS alpha, m.direction
  FROM experiment x
  JOIN experiment_metric m ON m.site_id = ${siteId} AND m.experiment_id = x.id AND m.role = 'primary'
  JOIN look l ON l.site_id = ${siteId} AND l.experiment_id = x.id AND l.metric_version_id = m.metric_version_id
  LEFT JOIN LATERAL (
    SELECT adjusted_lift, adjusted_low, adjusted_high FROM planned_look
    WHERE site_id = ${siteId} AND experiment_id = x.id AND variant = l.variant
    ORDER BY days_run DESC LIMIT 1
  ) p ON true
  WHERE x.site_id = ${siteId} AND x.state = 'ended' AND x.purpose = 'test' AND x.deleted_at IS NULL
    AND l.lift IS NOT NULL AND l.fixed_low IS NOT NULL AND l.fixed_high IS NOT NULL
  ORDER BY l.experiment_id, l.variant, l.day DESC`

/** Any of the words of a text, stemmed, as a search. */
const anyWord = (text: string): SQL => sql`replace(plainto_tsquery('english', ${text})::text, '&', '|')::tsquery`

/**
 * Rows whose words, or whose title's letters, are like a text, the most alike first. Of more than three words two must
 * be the same: one alone is in half of what people write.
 */
const alike = (rows: SQL, text: string, most: number): SQL => sql`
  SELECT id FROM (
    SELECT id, title, tsvector_to_array(to_tsvector('english', ${text})) AS asked,
      ARRAY(SELECT unnest(tsvector_to_array(to_tsvector('english', ${text})))
        INTERSECT SELECT unnest(tsvector_to_array(words))) AS shared
    FROM (${rows}) written WHERE words @@ ${anyWord(text)} OR title % ${text}
  ) found
  WHERE cardinality(shared) >= 2 OR (cardinality(asked) <= 3 AND cardinality(shared) >= 1) OR title % ${text}
  ORDER BY cardinality(shared)::float8 / greatest(1, cardinality(asked)) + similarity(title, ${text}) DESC, id DESC
  LIMIT ${most}`

export const SIMILAR_HYPOTHESES = (siteId: number, text: string, except: number | null, most: number): SQL =>
  alike(
    sql`SELECT id, title, to_tsvector('english', title || ' ' || change || ' ' || reason) AS words FROM hypothesis
      WHERE site_id = ${siteId} AND deleted_at IS NULL AND id IS DISTINCT FROM ${except}::int`,
    text,
    most,
  )

export const SIMILAR_EXPERIMENTS = (siteId: number, text: string, most: number): SQL =>
  alike(
    sql`SELECT id, name AS title, to_tsvector('english', name || ' ' || hypothesis) AS words FROM experiment
      WHERE site_id = ${siteId} AND deleted_at IS NULL`,
    text,
    most,
  )
