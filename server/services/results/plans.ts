/**
 * All SQL of the fold, from new events to sufficient statistics, in the order in which it runs.
 * Rows travel as JSON documents; sums are formed in exact decimals by the database.
 */
import { FOLD_LOCK } from '../../database/locks'

export const TRY_FOLD_LOCK = `SELECT pg_try_advisory_xact_lock(${FOLD_LOCK}) AS taken`
export const READ_CURSOR = 'SELECT seq FROM fold_cursor WHERE id = 1'
export const LAST_SEQ = 'SELECT CASE WHEN is_called THEN last_value ELSE 0 END AS seq FROM event_seq'
export const MOVE_CURSOR = 'UPDATE fold_cursor SET seq = $1, folded_at = now() WHERE id = 1'

/** Who did what in a range of `seq`: sightings of experiments, and visitors with anything a metric may count. */
export const NEW_SIGHTINGS = `
  SELECT e.site_id AS site, e.visitor_id AS visitor, e.experiment_id AS experiment, e.variant,
         extract(epoch FROM e.occurred_at)::float8 * 1000 AS at
  FROM event e JOIN experiment x ON x.id = e.experiment_id AND x.site_id = e.site_id
  WHERE e.seq > $1 AND e.seq <= $2 AND e.type = 'exposure'
    AND e.occurred_at >= x.started_at AND (x.ended_at IS NULL OR e.occurred_at <= x.ended_at)`

export const KNOWN_EXPOSURES = `
  SELECT site_id AS site, visitor_id AS visitor, experiment_id AS experiment, variant,
         extract(epoch FROM exposed_at)::float8 * 1000 AS at, crossed
  FROM exposure
  WHERE (site_id, visitor_id, experiment_id) IN (SELECT * FROM json_to_recordset($1) AS k(site integer, visitor text, experiment integer))`

/** Writes exposures and carries the change over to the counts by variant and day. */
export const SAVE_EXPOSURES = `
  WITH incoming AS (
    SELECT i.*, (to_timestamp(i.at / 1000) AT TIME ZONE s.time_zone)::date AS day
    FROM json_to_recordset($1) AS i(site integer, visitor text, experiment integer, variant smallint, at float8, crossed boolean)
    JOIN site s ON s.id = i.site
  ), before AS (
    SELECT x.site_id, x.experiment_id, x.variant, x.day, x.crossed
    FROM exposure x JOIN incoming i ON (x.site_id, x.visitor_id, x.experiment_id) = (i.site, i.visitor, i.experiment)
  ), saved AS (
    INSERT INTO exposure (site_id, visitor_id, experiment_id, variant, exposed_at, day, crossed)
    SELECT site, visitor, experiment, variant, to_timestamp(at / 1000), day, crossed FROM incoming
    ON CONFLICT (site_id, visitor_id, experiment_id) DO UPDATE
    SET variant = excluded.variant, exposed_at = excluded.exposed_at, day = excluded.day, crossed = excluded.crossed
  ), change AS (
    SELECT site, experiment, variant, day, 1 AS visitors, crossed::int AS crossed FROM incoming
    UNION ALL
    SELECT site_id, experiment_id, variant, day, -1, -crossed::int FROM before
  )
  INSERT INTO exposure_count AS c (site_id, experiment_id, variant, day, visitors, crossed)
  SELECT site, experiment, variant, day, sum(visitors), sum(crossed) FROM change GROUP BY 1, 2, 3, 4
  ON CONFLICT (experiment_id, variant, day) DO UPDATE
  SET visitors = c.visitors + excluded.visitors, crossed = c.crossed + excluded.crossed`

/** Exposures of the visitors who did something in a range of `seq`, for experiments that measure something. */
export const EXPOSURES_TO_MEASURE = `
  SELECT x.site_id AS site, x.visitor_id AS visitor, x.experiment_id AS experiment, x.variant, x.day::text AS day,
         extract(epoch FROM x.exposed_at)::float8 * 1000 AS at,
         extract(epoch FROM p.ended_at)::float8 * 1000 AS until
  FROM exposure x
  JOIN experiment p ON p.id = x.experiment_id
  WHERE (x.site_id, x.visitor_id) IN (
    SELECT DISTINCT site_id, visitor_id FROM event
    WHERE seq > $1 AND seq <= $2 AND type IN ('exposure', 'page', 'click', 'submit', 'amount', 'custom'))`

export const METRICS_OF_EXPERIMENTS = `
  SELECT em.experiment_id AS experiment, m.id, m.kind, m.source, m.denominator
  FROM experiment_metric em JOIN metric m ON m.id = em.metric_id
  WHERE em.experiment_id = ANY($1::int[])`

/** Everything that the named visitors did and a metric may count, up to a `seq`. */
export const EVENTS_OF_VISITORS = `
  SELECT site_id AS site, visitor_id AS visitor, type, address, selectors, name, amount::float8 AS amount,
         extract(epoch FROM occurred_at)::float8 * 1000 AS at
  FROM event
  WHERE (site_id, visitor_id) IN (SELECT * FROM json_to_recordset($1) AS k(site integer, visitor text))
    AND type IN ('page', 'click', 'submit', 'amount', 'custom') AND seq <= $2`

/** Writes visitors' values and carries the change over to the sums by variant, day and whether there is a past. */
export const SAVE_VALUES = `
  WITH incoming AS (
    SELECT * FROM json_to_recordset($1)
      AS i(site integer, visitor text, experiment integer, metric integer, variant smallint, day date, value numeric, denominator numeric, past numeric)
  ), before AS (
    SELECT v.* FROM visitor_value v JOIN incoming i
      ON (v.site_id, v.visitor_id, v.experiment_id, v.metric_id) = (i.site, i.visitor, i.experiment, i.metric)
  ), differing AS (
    SELECT i.* FROM incoming i
    LEFT JOIN before b ON (b.site_id, b.visitor_id, b.experiment_id, b.metric_id) = (i.site, i.visitor, i.experiment, i.metric)
    WHERE (b.value IS NULL AND (i.value <> 0 OR i.denominator <> 0 OR i.past IS NOT NULL))
       OR (b.value IS NOT NULL AND (b.value, b.denominator, b.past, b.variant, b.day) IS DISTINCT FROM (i.value, i.denominator, i.past, i.variant, i.day))
  ), saved AS (
    INSERT INTO visitor_value (site_id, visitor_id, experiment_id, metric_id, variant, day, value, denominator, past)
    SELECT site, visitor, experiment, metric, variant, day, value, denominator, past FROM differing
    ON CONFLICT (site_id, visitor_id, experiment_id, metric_id) DO UPDATE
    SET variant = excluded.variant, day = excluded.day, value = excluded.value, denominator = excluded.denominator, past = excluded.past
  ), change AS (
    SELECT 1 AS sign, site, experiment, metric, variant, day, value AS y, denominator AS z, past AS x FROM differing
    UNION ALL
    SELECT -1, b.site_id, b.experiment_id, b.metric_id, b.variant, b.day, b.value, b.denominator, b.past
    FROM before b JOIN differing d ON (b.site_id, b.visitor_id, b.experiment_id, b.metric_id) = (d.site, d.visitor, d.experiment, d.metric)
  )
  INSERT INTO statistic AS s (site_id, experiment_id, metric_id, variant, day, has_past, visitors, active, sum, sum_of_squares,
    denominator_sum, denominator_squares, denominator_products, past_sum, past_squares, past_products, past_denominator_products)
  SELECT site, experiment, metric, variant, day, x IS NOT NULL, sum(sign), sum(sign * (y <> 0)::int), sum(sign * y), sum(sign * y * y),
    sum(sign * z), sum(sign * z * z), sum(sign * y * z),
    coalesce(sum(sign * x), 0), coalesce(sum(sign * x * x), 0), coalesce(sum(sign * x * y), 0), coalesce(sum(sign * x * z), 0)
  FROM change GROUP BY 1, 2, 3, 4, 5, 6
  ON CONFLICT (experiment_id, metric_id, variant, day, has_past) DO UPDATE
  SET visitors = s.visitors + excluded.visitors, active = s.active + excluded.active,
      sum = s.sum + excluded.sum, sum_of_squares = s.sum_of_squares + excluded.sum_of_squares,
      denominator_sum = s.denominator_sum + excluded.denominator_sum, denominator_squares = s.denominator_squares + excluded.denominator_squares,
      denominator_products = s.denominator_products + excluded.denominator_products,
      past_sum = s.past_sum + excluded.past_sum, past_squares = s.past_squares + excluded.past_squares,
      past_products = s.past_products + excluded.past_products, past_denominator_products = s.past_denominator_products + excluded.past_denominator_products`
