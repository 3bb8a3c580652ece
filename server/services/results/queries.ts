/**
 * All SQL of the fold, from views and events to sufficient statistics, in the order in which it runs. Every statement
 * names the site. Rows travel as JSON documents; sums are formed in exact decimals by the database.
 */
import { PERSON } from '../../../core/identity/personId'
import { FOLD_LOCK, INTAKE_LOCK } from '../../database/locks'

const ms = (column: string) => `date_part('epoch', ${column}) * 1000`
const CIRCUMSTANCES = [
  'device',
  'system',
  'browser',
  'browser_version',
  'language',
  'time_zone',
  'country',
  'region',
  'city',
  'referrer_host',
  'campaign_source',
  'campaign_medium',
  'campaign',
  'campaign_term',
  'campaign_content',
]

/** Whether a job that brings numbers in line has not come to its end, nor a later one of the same experiment. */
export const isOpenRefold = (job: string) => `${job}.kind = 'refold' AND ${job}.state <> 'done' AND NOT EXISTS (
    SELECT FROM background_job l WHERE l.site_id = ${job}.site_id AND l.experiment_id = ${job}.experiment_id
      AND l.kind = 'refold' AND l.state = 'done' AND l.id > ${job}.id)`

/** While nothing is being written, everything with a number can be seen. */
export const HOLD_INTAKE = `SELECT pg_advisory_xact_lock(${INTAKE_LOCK})`
export const LAST_SEQ = 'SELECT CASE WHEN is_called THEN last_value ELSE 0 END AS seq FROM arrival_seq'

/** Sites where anything has come up to a number. */
export const SITES_WITH_NEWS = `
  SELECT s.id FROM site s LEFT JOIN fold_cursor c ON c.site_id = s.id
  WHERE EXISTS (SELECT 1 FROM page_view v WHERE v.site_id = s.id AND v.seq > coalesce(c.seq, 0) AND v.seq <= $1)
     OR EXISTS (SELECT 1 FROM event e WHERE e.site_id = s.id AND e.seq > coalesce(c.seq, 0) AND e.seq <= $1)
  ORDER BY c.folded_at NULLS FIRST, s.id`

export const TRY_FOLD_LOCK = `SELECT pg_try_advisory_xact_lock(${FOLD_LOCK}, $1) AS taken`
export const TAKE_FOLD_LOCK = `SELECT pg_advisory_xact_lock(${FOLD_LOCK}, $1)`
export const READ_CURSOR = 'SELECT seq FROM fold_cursor WHERE site_id = $1'
export const MOVE_CURSOR = `
  INSERT INTO fold_cursor AS c (site_id, seq, folded_at, as_of) VALUES ($1, $2, now(), to_timestamp($3::float8 / 1000))
  ON CONFLICT (site_id) DO UPDATE SET seq = excluded.seq, folded_at = now(), as_of = greatest(c.as_of, excluded.as_of)`
export const SET_ASIDE = `
  INSERT INTO set_aside (site_id, seq, reason) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING`

export const COUNT_SET_ASIDE = 'SELECT count(*) AS rows FROM set_aside WHERE site_id = $1'
export const ROWS_SET_ASIDE = 'SELECT seq FROM set_aside WHERE site_id = $1 ORDER BY seq'
export const TAKE_BACK = 'DELETE FROM set_aside WHERE site_id = $1 AND seq = $2'
/** Sites of which rows lie aside. */
export const SITES_WITH_SET_ASIDE = 'SELECT DISTINCT site_id AS id FROM set_aside'

/** Notes that summaries are to be computed, in the transaction that makes it necessary. */
export const NOTE_SUMMARIES_DUE = `
  INSERT INTO summary_due AS d (site_id, experiment_id) SELECT $1, unnest($2::int[])
  ON CONFLICT (site_id, experiment_id) DO UPDATE SET times = d.times + 1`

/** Number of the last of so many rows after the cursor. */
export const END_OF_PORTION = `
  SELECT max(seq) AS seq FROM (
    SELECT seq FROM (
      (SELECT seq FROM page_view WHERE site_id = $1 AND seq > $2 AND seq <= $3 ORDER BY seq LIMIT $4)
      UNION ALL
      (SELECT seq FROM event WHERE site_id = $1 AND seq > $2 AND seq <= $3 ORDER BY seq LIMIT $4)
    ) arrived ORDER BY seq LIMIT $4
  ) portion`

/** Where persons count as one on every device, everything that is known to be of one is folded a second time, as theirs. */
const AS_PERSON = `'${PERSON}' || person_id`
const PERSONS_AMONG = (visitors: string) =>
  `(SELECT array_agg(substr(id, 2)) FROM unnest(${visitors}::text[]) id WHERE starts_with(id, '${PERSON}'))::text[]`

/** Counts what each visitor did, and tells all that is known of them. */
export const countVisitors = (hasPersons: boolean) => `
  WITH arrived AS (
    SELECT visitor_id, occurred_at, true AS is_view, is_robot, is_team FROM page_view WHERE site_id = $1 AND seq > $2 AND seq <= $3
    UNION ALL
    SELECT visitor_id, occurred_at, false, false, false FROM event WHERE site_id = $1 AND seq > $2 AND seq <= $3${
      hasPersons
        ? `
    UNION ALL
    SELECT ${AS_PERSON}, occurred_at, true, is_robot, is_team FROM page_view
    WHERE site_id = $1 AND seq > $2 AND seq <= $3 AND person_id IS NOT NULL
    UNION ALL
    SELECT ${AS_PERSON}, occurred_at, false, false, false FROM event
    WHERE site_id = $1 AND seq > $2 AND seq <= $3 AND person_id IS NOT NULL`
        : ''
    }
  )
  INSERT INTO visitor AS v (site_id, id, first_seen_at, last_seen_at, views, events, is_robot, is_team)
  SELECT $1, visitor_id, min(occurred_at), max(occurred_at), count(*) FILTER (WHERE is_view), count(*), bool_or(is_robot), bool_or(is_team)
  FROM arrived GROUP BY visitor_id
  ON CONFLICT (site_id, id) DO UPDATE
  SET first_seen_at = least(v.first_seen_at, excluded.first_seen_at), last_seen_at = greatest(v.last_seen_at, excluded.last_seen_at),
      views = v.views + excluded.views, events = v.events + excluded.events,
      is_robot = v.is_robot OR excluded.is_robot, is_team = v.is_team OR excluded.is_team
  RETURNING id, views, events, is_robot AS "isRobot", is_team AS "isTeam", left_out AS "leftOut",
    ${ms('last_seen_at')} - ${ms('first_seen_at')} AS span`

/** Counts amounts in other currencies than the site's, by the day of the server. */
export const COUNT_FOREIGN_AMOUNTS = `
  INSERT INTO foreign_amount AS f (site_id, day, currency, amounts)
  SELECT e.site_id, e.occurred_at::date, e.currency, count(*)
  FROM event e JOIN site s ON s.id = e.site_id
  WHERE e.site_id = $1 AND e.seq > $2 AND e.seq <= $3 AND e.currency <> s.currency
  GROUP BY 1, 2, 3
  ON CONFLICT (site_id, day, currency) DO UPDATE SET amounts = f.amounts + excluded.amounts`

export const LEAVE_OUT_VISITORS = `
  UPDATE visitor v SET left_out = i.reason FROM json_to_recordset($2) AS i(id text, reason text)
  WHERE v.site_id = $1 AND v.id = i.id`

export const SAVE_SESSIONS = `
  INSERT INTO session AS s (site_id, visitor_id, id, started_at, ended_at, views, entry_address, exit_address, ${CIRCUMSTANCES.join(', ')})
  SELECT DISTINCT ON (visitor_id, session_id) site_id, visitor_id, session_id, min(occurred_at) OVER w, max(occurred_at) OVER w,
    count(*) OVER w, address, last_value(address) OVER (w ORDER BY occurred_at, id ROWS BETWEEN UNBOUNDED PRECEDING AND UNBOUNDED FOLLOWING),
    ${CIRCUMSTANCES.join(', ')}
  FROM page_view WHERE site_id = $1 AND seq > $2 AND seq <= $3
  WINDOW w AS (PARTITION BY visitor_id, session_id)
  ORDER BY visitor_id, session_id, occurred_at, id
  ON CONFLICT (site_id, visitor_id, id) DO UPDATE
  SET views = s.views + excluded.views,
      exit_address = CASE WHEN excluded.ended_at >= s.ended_at THEN excluded.exit_address ELSE s.exit_address END,
      ended_at = greatest(s.ended_at, excluded.ended_at),
      entry_address = CASE WHEN excluded.started_at < s.started_at THEN excluded.entry_address ELSE s.entry_address END,
      ${CIRCUMSTANCES.map((column) => `${column} = CASE WHEN excluded.started_at < s.started_at THEN excluded.${column} ELSE s.${column} END`).join(',\n      ')},
      started_at = least(s.started_at, excluded.started_at)`

/** Visits of persons, on each of their devices: what of a visit is known to be of one. */
export const SAVE_PERSON_SESSIONS = `
  INSERT INTO person_session AS s (site_id, person_id, visitor_id, session_id, started_at, ended_at, views)
  SELECT site_id, person_id, visitor_id, session_id, min(occurred_at), max(occurred_at), count(*)
  FROM page_view WHERE site_id = $1 AND seq > $2 AND seq <= $3 AND person_id IS NOT NULL
  GROUP BY site_id, person_id, visitor_id, session_id
  ON CONFLICT (site_id, person_id, visitor_id, session_id) DO UPDATE
  SET views = s.views + excluded.views, started_at = least(s.started_at, excluded.started_at),
      ended_at = greatest(s.ended_at, excluded.ended_at)`

const measured = (visitor: string) => `
  ${visitor} AS visitor, id, view_id AS view, type, ${ms('occurred_at')} AS at, address, element, name,
  CASE type WHEN 'reading' THEN (properties->>'seen')::float8 / 1000 ELSE amount::float8 END AS amount, currency, once, details, experiment_id AS experiment, variant, period,
  shown_after AS "shownAfter", visitor_id AS browser`
const measuredView = (visitor: string) => `
  ${visitor}, id, id, 'page', ${ms('occurred_at')}, address, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, visitor_id`

const ARRIVED = 'site_id = $1 AND seq > $2 AND seq <= $3'

/** When the first of a portion was received. */
export const EARLIEST_RECEIPT = `
  SELECT ${ms('min(at)')} AS at FROM (
    SELECT min(received_at) AS at FROM page_view WHERE ${ARRIVED}
    UNION ALL SELECT min(received_at) FROM event WHERE ${ARRIVED}
  ) received`

/** Everything new of visitors who take part in an experiment of those named, or do from now on. */
export const newEvents = (hasPersons: boolean) => `
  WITH concerned AS MATERIALIZED (
    SELECT visitor_id FROM event WHERE ${ARRIVED} AND type = 'exposure'
    ${hasPersons ? `UNION SELECT ${AS_PERSON} FROM event WHERE ${ARRIVED} AND type = 'exposure' AND person_id IS NOT NULL` : ''}
    UNION
    SELECT x.visitor_id FROM exposure x
    WHERE x.site_id = $1 AND x.experiment_id = ANY($4::int[]) AND x.visitor_id IN (
      SELECT visitor_id FROM page_view WHERE ${ARRIVED}
      UNION SELECT visitor_id FROM event WHERE ${ARRIVED}
      ${
        hasPersons
          ? `UNION SELECT ${AS_PERSON} FROM page_view WHERE ${ARRIVED} AND person_id IS NOT NULL
      UNION SELECT ${AS_PERSON} FROM event WHERE ${ARRIVED} AND person_id IS NOT NULL`
          : ''
      })
  )
  SELECT ${measured('visitor_id')} FROM event JOIN concerned USING (visitor_id) WHERE ${ARRIVED}
  UNION ALL
  SELECT ${measuredView('visitor_id')} FROM page_view JOIN concerned USING (visitor_id) WHERE ${ARRIVED}${
    hasPersons
      ? `
  UNION ALL
  SELECT ${measured('c.unit')} FROM (SELECT * FROM event WHERE ${ARRIVED} AND person_id IS NOT NULL) event
  JOIN (SELECT visitor_id AS unit FROM concerned) c ON c.unit = ${AS_PERSON}
  UNION ALL
  SELECT ${measuredView('c.unit')} FROM (SELECT * FROM page_view WHERE ${ARRIVED} AND person_id IS NOT NULL) page_view
  JOIN (SELECT visitor_id AS unit FROM concerned) c ON c.unit = ${AS_PERSON}`
      : ''
  }`

const notSetAside = (table: string) =>
  `NOT EXISTS (SELECT FROM set_aside a WHERE a.site_id = ${table}.site_id AND a.seq = ${table}.seq)`

/** Everything that the named visitors ever did and a metric may count, up to a number. */
export const eventsOfVisitors = (hasPersons: boolean) => `
  SELECT ${measured('visitor_id')} FROM event
  WHERE site_id = $1 AND visitor_id = ANY($2::text[]) AND seq <= $3 AND type = ANY($4::text[])
    AND ${notSetAside('event')}
  UNION ALL
  SELECT ${measuredView('visitor_id')} FROM page_view WHERE site_id = $1 AND visitor_id = ANY($2::text[]) AND seq <= $3
    AND ${notSetAside('page_view')}${
      hasPersons
        ? `
  UNION ALL
  SELECT ${measured(AS_PERSON)} FROM event
  WHERE site_id = $1 AND person_id = ANY(${PERSONS_AMONG('$2')}) AND seq <= $3 AND type = ANY($4::text[])
    AND ${notSetAside('event')}
  UNION ALL
  SELECT ${measuredView(AS_PERSON)} FROM page_view
  WHERE site_id = $1 AND person_id = ANY(${PERSONS_AMONG('$2')}) AND seq <= $3 AND ${notSetAside('page_view')}`
        : ''
    }`

/** All visits of the named visitors; of a person, what of them is known to be theirs. */
export const visitsOfVisitors = (hasPersons: boolean) => `
  SELECT visitor_id AS visitor, ${ms('started_at')} AS "startedAt", ${ms('ended_at')} AS "endedAt", views
  FROM session WHERE site_id = $1 AND visitor_id = ANY($2::text[])${
    hasPersons
      ? `
  UNION ALL
  SELECT ${AS_PERSON}, ${ms('started_at')}, ${ms('ended_at')}, views
  FROM person_session WHERE site_id = $1 AND person_id = ANY(${PERSONS_AMONG('$2')})`
      : ''
  }`

/** Of orders that were told again, the first telling that was known before. */
export const knownOrders = (hasPersons: boolean) => {
  const of = (visitor: string, known: string) => `
    SELECT ${measured(visitor)} FROM event
    WHERE site_id = $1 AND ${known} AND once = ANY($3::text[]) AND seq <= $4 AND NOT (seq > $5 AND seq <= $6)
      AND ${notSetAside('event')}`
  const own = of('visitor_id', 'visitor_id = ANY($2::text[])')
  const persons = hasPersons ? ` UNION ALL ${of(AS_PERSON, `person_id = ANY(${PERSONS_AMONG('$2')})`)}` : ''
  return `SELECT DISTINCT ON (visitor, once) * FROM (${own}${persons}) orders ORDER BY visitor, once, at, id`
}

export const EXPOSURES_OF_VISITORS = `
  SELECT visitor_id AS visitor, experiment_id AS experiment, variant, ${ms('exposed_at')} AS at, event_id AS id, view_id AS view,
    day::text AS day, period, shown_after AS "shownAfter", crossed, segments, left_out AS "leftOut"
  FROM exposure WHERE site_id = $1 AND visitor_id = ANY($2::text[]) AND experiment_id = ANY($3::int[])`

export const EXPOSING_VIEWS = `
  SELECT v.visitor_id AS visitor, v.id AS view, v.visit, v.device, v.system, v.browser, v.country, v.language,
    v.campaign_source AS "campaignSource", v.referrer_host AS "referrerHost"
  FROM page_view v JOIN json_to_recordset($2) AS i(visitor text, view uuid) ON v.visitor_id = i.visitor AND v.id = i.view
  WHERE v.site_id = $1`

/** Experiments of a site that were started, with their ends and pages. */
export const STARTED_EXPERIMENTS = `
  SELECT id AS experiment, ${ms('ended_at')} AS until, page_rules AS "pageRules", terms->>'unit' = 'person' AS "isOfPersons",
    (SELECT count(*)::int FROM allocation_period p WHERE p.site_id = $1 AND p.experiment_id = experiment.id) AS periods
  FROM experiment WHERE site_id = $1 AND started_at IS NOT NULL`
export const METRICS_OF_EXPERIMENTS = `
  SELECT em.experiment_id AS experiment, m.id, m.kind, m.source, m.denominator, m.cap::float8 AS cap, m.window_days AS "windowDays",
    CASE WHEN em.role = 'primary' THEN e.expectation END AS expectation
  FROM experiment_metric em JOIN metric_version m ON m.id = em.metric_version_id AND m.site_id = em.site_id
  JOIN experiment e ON e.id = em.experiment_id AND e.site_id = em.site_id
  WHERE em.site_id = $1`
export const EXCLUSIONS = `
  SELECT experiment_id AS experiment, kind, visitor_id AS visitor, visitor_ids AS visitors, segment, ${ms('"from"')} AS "from", ${ms('until')} AS until
  FROM exclusion WHERE site_id = $1`
export const SITE_MONEY = `
  SELECT time_zone AS "timeZone", currency, ${ms('raw_since')} AS "rawSince" FROM site WHERE id = $1`
export const SITE_RATES = `SELECT currency, "from"::text AS "from", rate FROM currency_rate WHERE site_id = $1`

/** Columns of `statistic`, and how each follows from values y, denominators z and pasts p that come in or go out. */
export const SUM_FORMULAS = [
  ['visitors', 'sum(sign)'],
  ['active', 'sum(sign * (y <> 0)::int)'],
  ['sum', 'sum(sign * y)'],
  ['squares', 'sum(sign * y * y)'],
  ['denominator_sum', 'sum(sign * z)'],
  ['denominator_squares', 'sum(sign * z * z)'],
  ['denominator_products', 'sum(sign * y * z)'],
  ['cubes', 'sum(sign * y * y * y)'],
  ['denominator_by_squares', 'sum(sign * y * y * z)'],
  ['denominator_squares_by_value', 'sum(sign * y * z * z)'],
  ['denominator_cubes', 'sum(sign * z * z * z)'],
  ['past_sum', 'coalesce(sum(sign * p), 0)'],
  ['past_squares', 'coalesce(sum(sign * p * p), 0)'],
  ['past_products', 'coalesce(sum(sign * p * y), 0)'],
  ['past_denominator_products', 'coalesce(sum(sign * p * z), 0)'],
] as const
const SUM_NAMES = SUM_FORMULAS.map(([name]) => name)

export const DROP_VALUES = `
  DELETE FROM visitor_value v USING json_to_recordset($2) AS i(visitor text, experiment integer)
  WHERE v.site_id = $1 AND v.visitor_id = i.visitor AND v.experiment_id = i.experiment`

export const DROP_EXPOSURES = `
  DELETE FROM exposure x USING json_to_recordset($2) AS i(visitor text, experiment integer)
  WHERE x.site_id = $1 AND x.visitor_id = i.visitor AND x.experiment_id = i.experiment`

/** Every time that a person was seen in an experiment, on any device. */
export const SIGHTINGS_OF_PERSON = `
  SELECT experiment_id AS experiment, variant, period, shown_after AS "shownAfter", ${ms('occurred_at')} AS at, id, view_id AS view,
    visitor_id AS browser
  FROM event WHERE site_id = $1 AND person_id = substr($2, 2) AND type = 'exposure' AND experiment_id = ANY($3::int[])`

/** What is known of a person, counted from what is left of them. */
export const COUNT_PERSON = `
  UPDATE visitor v SET views = c.views, events = c.events, first_seen_at = c.first, last_seen_at = c.last
  FROM (
    SELECT count(*) FILTER (WHERE is_view)::int AS views, count(*)::int AS events, min(occurred_at) AS first, max(occurred_at) AS last
    FROM (
      SELECT occurred_at, true AS is_view FROM page_view WHERE site_id = $1 AND person_id = substr($2, 2)
      UNION ALL SELECT occurred_at, false FROM event WHERE site_id = $1 AND person_id = substr($2, 2)
    ) told
  ) c
  WHERE v.site_id = $1 AND v.id = $2 AND c.events > 0`

export const SAVE_EXPOSURES = `
  INSERT INTO exposure (site_id, visitor_id, experiment_id, variant, exposed_at, event_id, view_id, day, period, shown_after, crossed,
    segments, left_out)
  SELECT $1, visitor, experiment, variant, to_timestamp(at / 1000), id, view, day, period, "shownAfter", crossed, segments, "leftOut"
  FROM json_to_recordset($2)
    AS i(visitor text, experiment integer, variant smallint, at float8, id uuid, view uuid, day date, period smallint, "shownAfter" integer, crossed boolean, segments jsonb, "leftOut" text)
  ON CONFLICT (site_id, visitor_id, experiment_id) DO UPDATE
  SET variant = excluded.variant, exposed_at = excluded.exposed_at, event_id = excluded.event_id, view_id = excluded.view_id,
      day = excluded.day, period = excluded.period, shown_after = excluded.shown_after, crossed = excluded.crossed, segments = excluded.segments, left_out = excluded.left_out`

export const CHANGE_COUNTS = `
  INSERT INTO exposure_count AS c (site_id, experiment_id, variant, dimension, value, visitors, crossed)
  SELECT $1, experiment, variant, dimension, label, visitors, crossed
  FROM json_to_recordset($2)
    AS i(experiment integer, variant smallint, dimension text, label text, visitors integer, crossed integer)
  ON CONFLICT (site_id, experiment_id, dimension, value, variant) DO UPDATE
  SET visitors = c.visitors + excluded.visitors, crossed = c.crossed + excluded.crossed`

export const VALUES_OF_VISITORS = `
  SELECT v.visitor_id AS visitor, v.experiment_id AS experiment, v.metric_version_id AS metric, v.value::float8 AS value,
    v.denominator::float8 AS denominator, v.past::float8 AS past, v.expected::float8 AS expected, m.cap::float8 AS cap, v.amounts
  FROM visitor_value v LEFT JOIN metric_version m ON m.site_id = v.site_id AND m.id = v.metric_version_id
  WHERE v.site_id = $1 AND v.visitor_id = ANY($2::text[]) AND v.experiment_id = ANY($3::int[])`

export const SAVE_VALUES = `
  INSERT INTO visitor_value (site_id, visitor_id, experiment_id, metric_version_id, value, denominator, past, expected, amounts)
  SELECT $1, visitor, experiment, metric, value, denominator, past, expected, amounts
  FROM json_to_recordset($2)
    AS i(visitor text, experiment integer, metric integer, value numeric, denominator numeric, past numeric, expected numeric, amounts jsonb)
  ON CONFLICT (site_id, visitor_id, experiment_id, metric_version_id) DO UPDATE
  SET value = excluded.value, denominator = excluded.denominator, past = excluded.past, expected = excluded.expected,
    amounts = excluded.amounts`

/**
 * Adds values to the sums (sign 1) or takes them out (sign -1), in exact decimals, under each label of their visitors.
 * The rows carry all of it: joined to tables that grow as quickly as this, the planner takes thousands of rows for one.
 */
export const CHANGE_SUMS = `
  INSERT INTO statistic AS s (site_id, experiment_id, metric_version_id, variant, dimension, value, has_past, ${SUM_NAMES.join(', ')})
  SELECT $1, experiment, metric, variant, d.key, d.value, p IS NOT NULL, ${SUM_FORMULAS.map(([, formula]) => formula).join(', ')}
  FROM json_to_recordset($2)
    AS i(sign integer, experiment integer, metric integer, variant smallint, labels jsonb, y numeric, z numeric, p numeric)
  CROSS JOIN LATERAL jsonb_each_text(labels) d
  GROUP BY experiment, metric, variant, d.key, d.value, p IS NOT NULL
  ON CONFLICT (site_id, experiment_id, dimension, value, metric_version_id, variant, has_past) DO UPDATE
  SET ${SUM_NAMES.map((name) => `${name} = s.${name} + excluded.${name}`).join(', ')}`

/** Summaries that are due, but for experiments whose numbers are just being computed anew. */
export const SUMMARIES_DUE = `
  SELECT d.site_id AS site, d.experiment_id AS experiment, d.times FROM summary_due d
  WHERE NOT EXISTS (
    SELECT FROM background_job j WHERE j.site_id = d.site_id AND j.experiment_id = d.experiment_id AND ${isOpenRefold('j')})
  ORDER BY 1, 2`

/** Experiments whose numbers nobody will bring in line any more unless it is asked for again, with the latest asking. */
export const REFOLDS_LEFT_OPEN = `
  SELECT DISTINCT ON (j.site_id, j.experiment_id) j.site_id AS site, j.experiment_id AS experiment, j.title,
    (SELECT coalesce(array_agg(DISTINCT metric), '{}') FROM background_job o CROSS JOIN unnest(o.added) metric
     WHERE o.site_id = j.site_id AND o.experiment_id = j.experiment_id AND o.state <> 'done') AS added
  FROM background_job j
  WHERE j.state IN ('canceled', 'failed') AND ${isOpenRefold('j')}
  ORDER BY j.site_id, j.experiment_id, j.id DESC`

/** Visitors of an experiment, in the order of their ids, for work that goes over all of them. */
export const NEXT_EXPOSED_VISITORS = `
  SELECT visitor_id AS visitor FROM exposure
  WHERE site_id = $1 AND experiment_id = $2 AND visitor_id > $3 ORDER BY visitor_id LIMIT $4`
export const VISITORS_BY_ID = `
  SELECT id, is_team AS "isTeam", left_out AS "leftOut" FROM visitor WHERE site_id = $1 AND id = ANY($2::text[])`
