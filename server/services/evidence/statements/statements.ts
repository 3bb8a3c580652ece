import { BANDS } from '../../../../core/evidence/behavior'
import { ACTIVE_DAYS, OTHERS } from '../../../../core/evidence/overTime'
import { UNKNOWN } from '../../../../core/evidence/selection'
import { dayAfter } from '../../../../core/time/siteDay'
import { readPage, sameWeekdaysBefore, type FilterQuery } from '../../../../shared/evidence/filter'
import { readHappenings } from '../../../../shared/recordings/recording'
import type { Asked, Questions } from '../answers'
import { metricSource } from '../metricSource'
import type { SiteVisits } from '../siteVisits'
import { onPage, pageColumn } from '../../statements/addressRules'
import { amountOf, counted } from '../../statements/countedSteps'
import { funnelStatement } from './funnelStatement'
import { midnight, text } from '../../statements/literals'
import { ownSteps, type Source } from './ownSteps'

/**
 * What each report says, as a statement over the raw views and events that somebody with access to the database would
 * type. It is shown beside the report, and tests hold the two against each other.
 */

/** Reports that are also a statement. */
export type Stated =
  | 'pages'
  | 'overTime'
  | 'funnel'
  | 'forms'
  | 'clicks'
  | 'reading'
  | 'survey'
  | 'surveys'
  | 'candidates'
  | 'events'
  | 'flow'
  | 'recordings'
type Statements = { [Ask in Stated]: (source: Source, question: StatedQuestions[Ask]) => Promise<string> }
/** Recordings are searched by the service that keeps them; their statement is asked with that search. */
export type StatedQuestions = Omit<{ [Ask in Asked]: Questions[Ask]['question'] }, 'recordings'> & {
  recordings: RecordingsSearch
}
export interface RecordingsSearch extends FilterQuery {
  happened?: string
  seconds: number
  clicked?: string
  plan?: string
  left?: number
}

/** What is told of forms in `of` as `told`, each with whether its form was sent later, and those that were as `sent`. */
function toldForms(of: string, site: SiteVisits): string {
  return `told AS (
  SELECT * FROM (
    SELECT paged.*, CASE kind WHEN 'form' THEN name ELSE properties->>'form' END AS form, bool_or(kind = 'submit') OVER (
      PARTITION BY visitor_id, session_id, element, page ORDER BY at DESC, seq DESC ROWS BETWEEN UNBOUNDED PRECEDING AND 1 PRECEDING
    ) AS is_sent
    FROM (SELECT ${of}.*, ${pageColumn(site)} AS page FROM ${of} WHERE kind IN ('form', 'field', 'submit')) paged
  ) forms WHERE kind <> 'submit'
), sent AS (
  SELECT DISTINCT visitor_id, session_id, page, form FROM told WHERE kind = 'form' AND is_sent
)`
}

export const STATEMENTS: Statements = {
  async pages(source, question) {
    const metric = await metricSource(source, question.metric)
    return `WITH ${await ownSteps(source, question)}, told AS (
  SELECT visitor_id, session_id, at, seq, kind, properties, ${pageColumn(source.site)} AS page,
    row_number() OVER (PARTITION BY visitor_id, session_id, kind ORDER BY at, seq) AS nth,
    count(*) OVER (PARTITION BY visitor_id, session_id, kind) AS of,
    bool_or(${metric ? counted(metric, source.site) : 'false'}) OVER (
      PARTITION BY visitor_id, session_id ORDER BY at DESC, seq DESC ROWS UNBOUNDED PRECEDING
    ) AS is_before
  FROM own steps
), others AS (
  SELECT page, count(*) FILTER (WHERE kind = 'error') AS errors,
    coalesce(sum((properties->>'seen')::float8) FILTER (WHERE kind = 'reading'), 0) AS seen,
    count(DISTINCT (visitor_id, session_id)) FILTER (WHERE kind = 'reading') AS told
  FROM told WHERE kind IN ('error', 'reading') GROUP BY 1
), counted AS (
  SELECT page, count(*) AS views, count(DISTINCT visitor_id) AS visitors,
    count(DISTINCT (visitor_id, session_id)) AS sessions,
    count(*) FILTER (WHERE nth = 1) AS entries, count(*) FILTER (WHERE nth = of) AS exits,
    count(*) FILTER (WHERE of = 1) AS bounces,
    count(DISTINCT (visitor_id, session_id)) FILTER (WHERE is_before) AS conversions,
    count(DISTINCT visitor_id) FILTER (WHERE is_before) AS converters
  FROM told WHERE kind = 'page' GROUP BY page
)
SELECT page, coalesce(views, 0)::float8 AS views, coalesce(visitors, 0)::float8 AS visitors,
  coalesce(sessions, 0)::float8 AS sessions, coalesce(entries, 0)::float8 AS entries, coalesce(exits, 0)::float8 AS exits,
  coalesce(bounces, 0)::float8 AS bounces, coalesce(seen, 0) AS seen, coalesce(told, 0)::float8 AS told,
  coalesce(errors, 0)::float8 AS errors, coalesce(conversions, 0)::float8 AS conversions,
  coalesce(converters, 0)::float8 AS converters
FROM counted FULL JOIN others USING (page) WHERE views > 0 OR errors > 0 OR told > 0 ORDER BY views DESC NULLS LAST, page`
  },

  async overTime(source, question) {
    const { timeZone } = source.site.basis
    const metric = await metricSource(source, question.metric)
    const first = dayAfter(question.from, 1 - ACTIVE_DAYS.monthly)
    const by = question.by
    const filter = { ...question, from: first }
    const dayOf = `(began AT TIME ZONE ${text(timeZone)})::date`
    const value = by ? `coalesce("${by}", ${text(UNKNOWN)})` : 'NULL::text'
    const per = question.per ?? 'day'
    const [begin, end] = [`date ${text(question.from)}`, `date ${text(question.to)}`]
    // The first period begins with the first day, wherever that lies in it.
    const periodOf = (day: string) => `greatest(date_trunc(${text(per)}, ${day})::date, ${begin})`
    const active = (days: number) => `SELECT value, day + later AS day, count(DISTINCT visitor_id) AS visitors
  FROM (SELECT DISTINCT value, day, visitor_id FROM visits) seen CROSS JOIN generate_series(0, ${days - 1}) later GROUP BY 1, 2`
    return `WITH ${await ownSteps(source, filter, [...new Set(['visitor' as const, ...(by ? [by] : [])])])}, sessions AS (
  SELECT visitor_id, session_id, began, "visitor" AS nth, ${value} AS value, count(*) FILTER (WHERE kind = 'page') AS views,
    sum(${metric ? amountOf(metric, source.site) : 1}) FILTER (WHERE ${metric ? counted(metric, source.site) : 'false'}) AS gained
  FROM own steps GROUP BY 1, 2, 3, 4, 5
), top AS (
  SELECT value FROM sessions WHERE began >= ${midnight(question.from, timeZone)}
  GROUP BY 1 ORDER BY count(*) DESC, min(began) LIMIT 6
), visits AS (
  SELECT visitor_id, session_id, ${dayOf} AS day, nth, views, gained,
    ${by ? `CASE WHEN value IN (SELECT value FROM top) THEN value ELSE ${text(OTHERS)} END` : 'NULL::text'} AS value
  FROM sessions
), counted AS (
  SELECT value, ${periodOf('day')} AS day, count(DISTINCT visitor_id) AS visitors,
    count(DISTINCT visitor_id) FILTER (WHERE nth = 'new') AS new_visitors,
    count(DISTINCT visitor_id) FILTER (WHERE nth IS DISTINCT FROM 'new') AS came_back,
    count(*) AS sessions, sum(views) AS views, count(DISTINCT visitor_id) FILTER (WHERE gained IS NOT NULL) AS converted,
    coalesce(sum(gained), 0) AS sum
  FROM visits WHERE day >= ${begin} GROUP BY 1, 2
), weekly AS (
  ${active(ACTIVE_DAYS.weekly)}
), monthly AS (
  ${active(ACTIVE_DAYS.monthly)}
), days AS (
  SELECT v.value, ${periodOf('d')} AS day, max(d::date) AS last_day FROM (${by ? 'SELECT DISTINCT value FROM visits' : 'SELECT NULL::text AS value'}) v
  CROSS JOIN generate_series(${begin}, ${end}, interval '1 day') d GROUP BY 1, 2
)
SELECT d.value, d.day::text AS day, coalesce(c.visitors, 0)::float8 AS visitors, coalesce(new_visitors, 0)::float8 AS "newVisitors",
  coalesce(came_back, 0)::float8 AS "returning", coalesce(sessions, 0)::float8 AS sessions, coalesce(views, 0)::float8 AS views,
  coalesce(w.visitors, 0)::float8 AS weekly, coalesce(m.visitors, 0)::float8 AS monthly,
  coalesce(converted, 0)::float8 AS converted, coalesce(sum, 0)::float8 AS sum
FROM days d LEFT JOIN counted c ON c.value IS NOT DISTINCT FROM d.value AND c.day = d.day
LEFT JOIN weekly w ON w.value IS NOT DISTINCT FROM d.value AND w.day = d.last_day
LEFT JOIN monthly m ON m.value IS NOT DISTINCT FROM d.value AND m.day = d.last_day ORDER BY d.value, d.day`
  },

  funnel: funnelStatement,

  async forms(source, question) {
    const quartiles = (column: string) => `percentile_cont(ARRAY[0.25, 0.5, 0.75]) WITHIN GROUP (ORDER BY ${column})`
    return `WITH ${await ownSteps(source, question)}, ${toldForms('own', source.site)}, visits AS (
  SELECT visitor_id, session_id, page, form, name AS field, sum((properties->>'time')::float8) AS time,
    (array_agg((properties->>'hesitation')::float8 ORDER BY at, seq) FILTER (WHERE properties->>'hesitation' IS NOT NULL))[1] AS hesitation,
    bool_or((properties->>'isRefill')::boolean) AS refilled,
    (array_agg((properties->>'isBlank')::boolean ORDER BY at DESC, seq DESC))[1] AS blank,
    max(at) AS at, (array_agg(seq ORDER BY at DESC, seq DESC))[1] AS seq
  FROM told WHERE kind = 'field' GROUP BY 1, 2, 3, 4, 5
), sessions AS (
  SELECT DISTINCT visitor_id, session_id, page, form FROM told
), last AS (
  SELECT DISTINCT ON (visitor_id, session_id, page, form) visitor_id, session_id, page, form, field
  FROM visits ORDER BY visitor_id, session_id, page, form, at DESC, seq DESC
)
SELECT s.page, s.form, f.field, s.seen, s.visitors, s.begun, s.sent, coalesce(f.reached, 0)::float8 AS reached, f.time, f.hesitation,
  coalesce(f.refilled, 0)::float8 AS refilled, coalesce(f.blank, 0)::float8 AS blank, coalesce(l.left_at, 0)::float8 AS "left"
FROM (
  SELECT page, form, count(*)::float8 AS seen, count(DISTINCT visitor_id)::float8 AS visitors,
    count(*) FILTER (WHERE (visitor_id, session_id, page, form) IN (SELECT visitor_id, session_id, page, form FROM visits))::float8 AS begun,
    count(*) FILTER (WHERE (visitor_id, session_id, page, form) IN (SELECT * FROM sent))::float8 AS sent
  FROM sessions GROUP BY page, form
) s LEFT JOIN (
  SELECT page, form, field, count(*) AS reached, ${quartiles('time')} AS time, ${quartiles('hesitation')} AS hesitation,
    count(*) FILTER (WHERE refilled) AS refilled, count(*) FILTER (WHERE blank) AS blank
  FROM visits GROUP BY 1, 2, 3
) f ON f.page = s.page AND f.form = s.form LEFT JOIN (
  SELECT page, form, field, count(*) AS left_at FROM last
  WHERE (visitor_id, session_id, page, form) NOT IN (SELECT * FROM sent) GROUP BY 1, 2, 3
) l ON l.page = f.page AND l.form = f.form AND l.field = f.field
ORDER BY s.seen DESC, s.page, s.form, f.field`
  },

  async events({ siteId, site }, { from, to }) {
    const { timeZone } = site.basis
    const days = `occurred_at >= ${midnight(from, timeZone)} AND occurred_at < ${midnight(dayAfter(to), timeZone)}`
    return `SELECT kind, name, count(*)::float8 AS count, count(DISTINCT visitor_id)::float8 AS visitors, max(at) AS last
FROM (
  SELECT 'page' AS kind, NULL AS name, visitor_id, occurred_at AS at FROM page_view
  WHERE site_id = ${siteId} AND ${days}
  UNION ALL
  SELECT type, CASE WHEN type IN ('custom', 'error', 'amount') THEN name END, visitor_id, occurred_at FROM event
  WHERE site_id = ${siteId} AND type NOT IN ('exposure', 'drift') AND ${days}
) e GROUP BY 1, 2 ORDER BY count DESC, kind, name`
  },

  async recordings(source, { happened, seconds, clicked, ...filter }) {
    const conditions = (readHappenings(happened) ?? []).map((each) =>
      each === 'left-form'
        ? `(array_agg(kind ORDER BY at DESC, seq DESC) FILTER (WHERE kind IN ('field', 'submit')))[1] = 'field'`
        : `bool_or(kind = ${text(each)})`,
    )
    if (clicked) {
      const words = text(clicked.toLowerCase())
      conditions.push(
        `bool_or(kind = 'click' AND (position(${words} IN lower(coalesce(label, ''))) > 0 OR position(${words} IN lower(element)) > 0))`,
      )
    }
    return `WITH ${await ownSteps(source, filter)}, found AS (
  SELECT visitor_id, session_id FROM own GROUP BY 1, 2
  HAVING extract(epoch FROM max(at) - min(at)) >= ${seconds}${conditions.map((each) => `\n    AND ${each}`).join('')}
)
SELECT visitor_id AS visitor, session_id AS session
FROM recording r WHERE r.site_id = ${source.siteId} AND (visitor_id, session_id) IN (SELECT visitor_id, session_id FROM found)
ORDER BY r.started_at DESC`
  },

  async flow(source, question) {
    return `WITH ${await ownSteps(source, question, ['source'])}, views AS (
  SELECT ${pageColumn(source.site)} AS page, "source", visitor_id, session_id, at, seq FROM own WHERE kind = 'page'
), around AS (
  SELECT page, "source", lag(page) OVER session AS before, lead(page) OVER session AS after
  FROM views WINDOW session AS (PARTITION BY visitor_id, session_id ORDER BY at, seq)
)
SELECT 'before' AS side, before AS name, count(*)::float8 AS views FROM around WHERE page = ${text(question.of)} GROUP BY 2
UNION ALL
SELECT 'after', after, count(*)::float8 FROM around WHERE page = ${text(question.of)} GROUP BY 2
UNION ALL
SELECT 'source', "source", count(*)::float8 FROM around WHERE page = ${text(question.of)} AND before IS NULL GROUP BY 2
ORDER BY side, views DESC, name`
  },

  async survey(source, question) {
    const ofThis = `properties->>'survey' = ${text(String(question.survey))}`
    return `WITH ${await ownSteps(source, question)}, last AS (
  SELECT DISTINCT ON (visitor_id, properties->>'question') visitor_id, session_id, at, properties
  FROM own WHERE kind = 'answer' AND ${ofThis}
  ORDER BY visitor_id, properties->>'question', at DESC, seq DESC
)
SELECT (SELECT count(DISTINCT visitor_id) FROM own WHERE kind = 'asked' AND ${ofThis})::float8 AS asked,
  (SELECT count(DISTINCT visitor_id) FROM own WHERE kind = 'answer' AND ${ofThis})::float8 AS answered,
  properties->>'question' AS question, choice.id AS choice, properties->>'value' AS value, properties->>'text' AS text,
  count(DISTINCT visitor_id)::float8 AS visitors
FROM last LEFT JOIN LATERAL jsonb_array_elements_text(properties->'choices') AS choice(id) ON true
GROUP BY 3, 4, 5, 6 ORDER BY 3, visitors DESC, 4, 5, 6`
  },

  async surveys(source, question) {
    return `WITH ${await ownSteps(source, question)}
SELECT (properties->>'survey')::int AS survey, count(DISTINCT visitor_id) FILTER (WHERE kind = 'asked')::float8 AS asked,
  count(DISTINCT visitor_id) FILTER (WHERE kind = 'answer')::float8 AS answered
FROM own WHERE kind IN ('asked', 'answer') GROUP BY 1 ORDER BY 1`
  },

  async candidates(source, question) {
    const { timeZone } = source.site.basis
    const earlier = sameWeekdaysBefore(question)
    const both = { ...question, from: earlier.from }
    const onPhone = `"device" IS NOT DISTINCT FROM 'phone'`
    const times = (device: string) => `percentile_disc(0.5) WITHIN GROUP (ORDER BY time) FILTER (WHERE ${device})`
    return `WITH ${await ownSteps(source, both, ['device'])}, now AS (
  SELECT own.*, bool_or(kind IN ('reading', 'dead')) OVER (PARTITION BY visitor_id, session_id) AS is_observed
  FROM own WHERE began >= ${midnight(question.from, timeZone)}
), ${toldForms('now', source.site)}, first AS (
  SELECT told.*, first_value(session_id) OVER (PARTITION BY visitor_id, page, form ORDER BY began, session_id) AS first_session
  FROM told WHERE kind = 'field'
), begun AS (
  SELECT *, first_value(name) OVER (PARTITION BY visitor_id, page, form ORDER BY at DESC, seq DESC) AS last_field
  FROM first WHERE session_id = first_session
), fields AS (
  SELECT visitor_id, session_id, page, form, "device", name AS field, sum((properties->>'time')::float8) AS time,
    name = last_field AND (visitor_id, session_id, page, form) NOT IN (SELECT * FROM sent) AS is_left
  FROM begun GROUP BY 1, 2, 3, 4, 5, 6, last_field
), of_form AS (
  SELECT page, form, count(DISTINCT visitor_id) FILTER (WHERE ${onPhone}) AS phones,
    count(DISTINCT visitor_id) FILTER (WHERE NOT (${onPhone})) AS others
  FROM begun GROUP BY 1, 2
), clicked AS (
  SELECT ${pageColumn(source.site)} AS page, element, count(DISTINCT visitor_id) AS visitors,
    count(DISTINCT visitor_id) FILTER (WHERE kind = 'dead') AS dead
  FROM now WHERE kind IN ('click', 'dead') AND is_observed
  GROUP BY 1, 2
), viewed AS (
  SELECT visitor_id, session_id, began, began >= ${midnight(question.from, timeZone)} AS is_now, ${pageColumn(source.site)} AS page,
    row_number() OVER (PARTITION BY visitor_id, session_id ORDER BY at DESC, seq DESC) = 1 AS is_last
  FROM own WHERE kind = 'page'
    AND (began >= ${midnight(question.from, timeZone)} OR began < ${midnight(dayAfter(earlier.to), timeZone)})
), sessions AS (
  SELECT DISTINCT ON (visitor_id, is_now, page) is_now, page, bool_or(is_last) OVER (PARTITION BY visitor_id, session_id, page) AS is_last
  FROM viewed ORDER BY visitor_id, is_now, page, began, session_id
)
SELECT 'slowFields' AS rule, page, form, field AS what, ${times(onPhone)} AS marked,
  count(*) FILTER (WHERE ${onPhone})::float8 AS marked_of, ${times(`NOT (${onPhone})`)} AS others,
  count(*) FILTER (WHERE NOT (${onPhone}))::float8 AS others_of FROM fields GROUP BY 2, 3, 4
UNION ALL
SELECT 'leftFields', page, form, field, count(*) FILTER (WHERE is_left AND ${onPhone})::float8, phones::float8,
  count(*) FILTER (WHERE is_left AND NOT (${onPhone}))::float8, others::float8
FROM fields JOIN of_form USING (page, form) GROUP BY 2, 3, 4, phones, others
UNION ALL
SELECT 'deadElements', page, NULL, element, dead::float8, visitors::float8, (sum(dead) OVER own_page - dead)::float8,
  (sum(visitors) OVER own_page - visitors)::float8 FROM clicked WINDOW own_page AS (PARTITION BY page)
UNION ALL
SELECT 'risingExits', page, NULL, NULL, count(*) FILTER (WHERE is_now AND is_last)::float8,
  count(*) FILTER (WHERE is_now)::float8, count(*) FILTER (WHERE NOT is_now AND is_last)::float8,
  count(*) FILTER (WHERE NOT is_now)::float8 FROM sessions GROUP BY 2
ORDER BY 1, 2, 3, 4`
  },

  async clicks(source, question) {
    return `WITH ${await ownSteps(source, question)}
SELECT element AS path, count(*)::float8 AS clicks, count(DISTINCT visitor_id)::float8 AS visitors
FROM own WHERE kind = ${text(question.kind)} AND ${onPage(readPage(question.of)!, source.site)}
  AND coalesce(width, 0) >= ${question.widthFrom} AND coalesce(width, 0) < ${question.widthBelow}
GROUP BY element ORDER BY clicks DESC, path`
  },

  async reading(source, question) {
    const bands = Array.from({ length: BANDS }, (_, band) => band)
    return `WITH ${await ownSteps(source, question)}, readings AS (
  SELECT visitor_id, session_id, properties,
    (properties->>'depth')::float8 / greatest(1, (properties->>'height')::float8) AS depth
  FROM own WHERE kind = 'reading' AND ${onPage(readPage(question.of)!, source.site)}
    AND coalesce(width, 0) >= ${question.widthFrom} AND coalesce(width, 0) < ${question.widthBelow}
), sessions AS (
  SELECT visitor_id, session_id, max(depth) AS depth FROM readings GROUP BY 1, 2
)
SELECT (SELECT count(*) FROM sessions)::float8 AS sessions,
  ARRAY[${bands.map((band) => `(SELECT count(*) FROM sessions WHERE depth >= ${(band + 0.5) / BANDS})::float8`).join(', ')}] AS reach,
  ARRAY[${bands.map((band) => `(SELECT coalesce(sum((properties->'bands'->>${band})::float8), 0) FROM readings)`).join(', ')}] AS attention`
  },
}
