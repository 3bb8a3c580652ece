/**
 * All SQL that brings visits into memory. Every statement names the site. What has been folded is what is read: by then
 * it is known who is left out.
 */
const ms = (column: string) => `date_part('epoch', ${column}) * 1000`

export const FOLDED_UP_TO = 'SELECT seq FROM fold_cursor WHERE site_id = $1'
/** What a change of which makes everything read anew. */
export const BASIS = `
  SELECT s.address, s.time_zone AS "timeZone", s.currency,
    (SELECT count(*)::int FROM erasure e WHERE e.site_id = s.id) AS erasures,
    coalesce((SELECT json_agg(json_build_object('currency', r.currency, 'from', r."from", 'rate', r.rate)) FROM currency_rate r WHERE r.site_id = s.id), '[]') AS rates
  FROM site s WHERE s.id = $1`

/** As `segmentsOf` tells them apart. */
export const SOURCE = "left(coalesce(campaign_source, referrer_host, 'direct'), 100)"
export const LANGUAGE = "nullif(lower(split_part(language, '-', 1)), '')"
export const VISITOR = "CASE WHEN visit > 1 THEN 'returning' WHEN visit = 1 THEN 'new' END"

export const VIEWS = `
  SELECT visitor_id, session_id, ${ms('occurred_at')}, address, window_width, device, browser, system, country, region, city,
    ${LANGUAGE}, ${SOURCE}, campaign_medium, campaign, campaign_term, campaign_content, time_zone, ${VISITOR}, attributes, seq
  FROM page_view WHERE site_id = $1 AND seq > $2 AND seq <= $3 ORDER BY seq`

export const EVENTS = `
  SELECT visitor_id, session_id, ${ms('occurred_at')}, address, type, element, label, name, amount::float8, currency, once,
    page_x, page_y, element_x, element_y, properties, details, seq
  FROM event WHERE site_id = $1 AND seq > $2 AND seq <= $3 AND type NOT IN ('exposure', 'drift') ORDER BY seq`

/** Who of those that came is in nobody's numbers. */
export const LEFT_OUT = `
  SELECT id, left_out IS NOT NULL FROM visitor
  WHERE site_id = $1 AND id IN (
    SELECT visitor_id FROM page_view WHERE site_id = $1 AND seq > $2 AND seq <= $3
    UNION SELECT visitor_id FROM event WHERE site_id = $1 AND seq > $2 AND seq <= $3)`

/** Visitors of a variant with the moment of their exposure. */
export const EXPOSED_TO = `
  SELECT visitor_id AS visitor, ${ms('exposed_at')} AS at FROM exposure
  WHERE site_id = $1 AND experiment_id = $2 AND variant = $3 AND left_out IS NULL AND NOT starts_with(visitor_id, '~')
  UNION ALL
  SELECT e.visitor_id, ${ms('min(e.occurred_at)')} FROM exposure x
  JOIN event e ON e.site_id = x.site_id AND e.person_id = substr(x.visitor_id, 2) AND e.experiment_id = x.experiment_id
  WHERE x.site_id = $1 AND x.experiment_id = $2 AND x.variant = $3 AND x.left_out IS NULL AND starts_with(x.visitor_id, '~')
  GROUP BY e.visitor_id`

/** The definition of a metric in its latest version. */
export const METRIC_SOURCE = `
  SELECT source, cap::float8 AS cap FROM metric_version WHERE site_id = $1 AND metric_id = $2 ORDER BY version DESC LIMIT 1`

/** Addresses with the visitors that they had on a day, on average; nobody of the team, and no robot. */
export const OCCURRED_ADDRESSES = `
  SELECT address, (count(*)::float8 / $4) AS visitors FROM (
    SELECT DISTINCT address, visitor_id, occurred_at::date FROM page_view
    WHERE site_id = $1 AND occurred_at >= $2 AND occurred_at < $3 AND NOT is_robot AND NOT is_team
  ) seen GROUP BY address ORDER BY visitors DESC, address LIMIT $5`
