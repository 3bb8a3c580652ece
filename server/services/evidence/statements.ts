import type { DetailTest } from '../../../core/measurement/eventDetails'
import { isWithin } from '../../../core/measurement/elementPath'
import { isOfVisits, LEADING_ELEMENT, type VisitSource } from '../../../core/measurement/metric'
import { isPlainRule, matchesPageRule, type PageRule } from '../../../core/targeting/pageRule'
import { BANDS } from '../../../core/evidence/behavior'
import type { CountedSource } from '../../../core/evidence/countedSteps'
import { ACTIVE_DAYS, OTHERS } from '../../../core/evidence/overTime'
import { UNKNOWN } from '../../../core/evidence/selection'
import type { Dimension } from '../../../core/evidence/visits'
import { dayAfter } from '../../../core/time/siteDay'
import { OTHER_PARTS, rangeBefore, readPage, readSegment, type FilterQuery } from '../../../shared/evidence/filter'
import { readHappenings } from '../../../shared/evidence/recordings'
import type { Asked, Questions } from './answers'
import { metricSource } from './metricSource'
import { LANGUAGE, SOURCE, VISITOR } from './plans'
import type { Pool } from 'pg'
import type { SiteVisits } from './siteVisits'

/**
 * What each report says, as a statement over the raw views and events that somebody with access to the database would
 * type. It is shown beside the report, and tests hold the two against each other.
 */

interface Source {
  pool: Pool
  siteId: number
  site: SiteVisits
}
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

const text = (value: string) => `'${value.replaceAll("'", "''")}'`

function midnight(day: string, timeZone: string): string {
  return `timestamp ${text(day)} AT TIME ZONE ${text(timeZone)}`
}

function pageColumn({ basis }: SiteVisits): string {
  const parts = `regexp_match(address, '^\\w+://([^/?#]*)([^?#]*)')`
  return `CASE WHEN (${parts})[1] = ${text(new URL(basis.address).host)} THEN coalesce(nullif((${parts})[2], ''), '/') ELSE (${parts})[1] || (${parts})[2] END`
}

const PATH = `substring(address FROM '^\\w+://[^/?#]*([^?#]*)')`
const PATH_AND_QUERY = `substring(address FROM '^\\w+://[^/?#]*(.*)$')`

/** Whether an address fulfils a rule, as `matchesPageRule` decides it. Rules of other kinds are asked of what occurs. */
function onPage(rule: PageRule, { visits }: SiteVisits): string {
  if (!isPlainRule(rule)) {
    const found = visits.addresses.texts.filter((address) => address !== '' && matchesPageRule(rule, address))
    return `address IN (${found.map(text).join(', ') || 'NULL'})`
  }
  const { match, value } = rule
  if (match === 'contains')
    return `(position(${text(value)} IN ${PATH_AND_QUERY}) > 0 OR position(${text(encodeURI(value))} IN ${PATH_AND_QUERY}) > 0)`
  const [path = '', query] = value.split('?', 2)
  const encoded = new URL(path, 'https://path.invalid').pathname
  if (match === 'begins')
    return `starts_with(${PATH_AND_QUERY}, ${text(query === undefined ? encoded : `${encoded}?${query}`)})`
  const same = `coalesce(nullif(rtrim(${PATH}, '/'), ''), '/') = ${text(encoded.replace(/(.)\/$/, '$1'))}`
  return query === undefined ? same : `${same} AND right(${PATH_AND_QUERY}, -length(${PATH})) = ${text(`?${query}`)}`
}

const COLUMNS: Record<Exclude<Dimension, 'landing'>, string> = {
  ...{ device: 'device', browser: 'browser', system: 'system', country: 'country', region: 'region', city: 'city' },
  ...{ language: LANGUAGE, source: SOURCE, medium: 'campaign_medium', campaign: 'campaign', term: 'campaign_term' },
  ...{ content: 'campaign_content', timeZone: 'time_zone', visitor: VISITOR },
}
const columnOf = (dimension: Dimension, site: SiteVisits) =>
  dimension === 'landing' ? pageColumn(site) : COLUMNS[dimension]

/** Whether a row of `steps` is what a source counts. Selectors are asked of the elements that occur. */
function counted(source: CountedSource, site: SiteVisits): string {
  if (isOfVisits(source)) return countedVisit(source)
  const within = (kind: string, selector: string) => {
    const found = site.visits.elements.texts.filter((element) => element !== '' && isWithin(element, selector))
    return `kind = ${text(kind)} AND element IN (${found.map(text).join(', ') || 'NULL'})`
  }
  const isOn = 'page' in source && source.page ? ` AND ${onPage(source.page, site)}` : ''
  const isFirst = `(once IS NULL OR NOT EXISTS (SELECT FROM event e WHERE e.site_id = steps.site_id AND e.visitor_id = steps.visitor_id AND e.once = steps.once AND (e.occurred_at, e.seq) < (steps.at, steps.seq)))`
  switch (source.type) {
    case 'visit':
      return `kind = 'page'${isOn}`
    case 'click':
    case 'submit':
      return `${within(source.type, source.selector)}${isOn}`
    case 'pageAmount':
      return `kind = 'amount' AND name = ${text(source.selector)}${isOn} AND ${isFirst}`
    case 'event':
      return `kind = 'custom' AND name = ${text(source.name)}${source.detail ? ` AND ${saysDetail(source.detail)}` : ''}${isOn} AND ${isFirst}`
    case 'engagement':
      return `(kind = 'submit' OR (${within('click', LEADING_ELEMENT)}))${isOn}`
    case 'error':
      return `kind = 'error'${isOn}`
    case 'timeInView':
      return `kind = 'reading'${isOn}`
  }
}

/** What an event must say, as `core/measurement/eventDetails.ts` asks for it. */
function saysDetail({ name, is, texts = [], number }: DetailTest): string {
  const told = `details->>${text(name)}`
  if (is === 'known') return `${told} IS NOT NULL`
  if (is === 'oneOf') return `lower(${told}) IN (${texts.map((each) => text(each.toLowerCase())).join(', ') || 'NULL'})`
  const isNumber = `jsonb_typeof(details->${text(name)}) = 'number'`
  return `CASE WHEN ${isNumber} THEN (${told})::float8 ${is === 'least' ? '>=' : '<='} ${number ?? 'NULL'} ELSE false END`
}

/** Pages of the visit that a row of `steps` belongs to, or of the visitor's others. */
const pagesOf = (which: '=' | '<>') =>
  `FROM page_view p WHERE p.site_id = steps.site_id AND p.visitor_id = steps.visitor_id AND p.session_id ${which} steps.session_id`

/** Whole visits are counted at their last page. */
function countedVisit(source: VisitSource): string {
  const isLast = `kind = 'page' AND NOT EXISTS (SELECT ${pagesOf('=')} AND (p.occurred_at, p.seq) > (steps.at, steps.seq))`
  if (source.type === 'bounces') return `${isLast} AND (SELECT count(*) ${pagesOf('=')}) = 1`
  if (source.type !== 'return') return isLast
  const began = `(SELECT min(p.occurred_at) ${pagesOf('=')})`
  return `${isLast} AND EXISTS (SELECT 1 FROM (SELECT max(p.occurred_at) AS ended ${pagesOf('<>')} GROUP BY p.session_id) others
      WHERE ended < ${began} AND ended >= ${began} - interval '${source.days} days')`
}

/** What a counted row of `steps` adds. */
function amountOf({ type }: CountedSource): string {
  if (type === 'visitTime')
    return `(SELECT round(extract(epoch FROM max(p.occurred_at) - min(p.occurred_at))) ${pagesOf('=')})`
  if (type === 'timeInView') return "(properties->>'seen')::numeric / 1000"
  return "CASE WHEN kind IN ('amount', 'custom') THEN coalesce(amount, 1) ELSE 1 END"
}

/** What is told of forms in `of` as `told`, and the sessions that sent one as `sent`. */
function toldForms(of: string, site: SiteVisits): string {
  const page = pageColumn(site)
  return `told AS (
  SELECT ${of}.*, ${page} AS page, CASE kind WHEN 'form' THEN name ELSE properties->>'form' END AS form
  FROM ${of} WHERE kind IN ('form', 'field')
), sent AS (
  SELECT DISTINCT f.visitor_id, f.session_id, f.page, f.form
  FROM told f JOIN ${of} s ON s.visitor_id = f.visitor_id AND s.session_id = f.session_id AND s.kind = 'submit'
    AND s.element = f.element AND (s.at, s.seq) > (f.at, f.seq)
  WHERE f.kind = 'form' AND f.page = (SELECT ${page} FROM (SELECT s.address) a)
)`
}

/** The sessions that a report is about as `chosen`, and everything that happened as `steps`. */
async function chosen(source: Source, filter: FilterQuery, extra: readonly Dimension[] = []): Promise<string> {
  const { siteId, site } = source
  const { timeZone } = site.basis
  const parts = (filter.segment && readSegment(filter.segment)) || []
  const dimensions = [...new Set([...parts.flatMap(({ name }) => (isOwn(name) ? [] : [name])), ...extra])]
  const conditions = [
    `began >= ${midnight(filter.from, timeZone)}`,
    `began < ${midnight(dayAfter(filter.to), timeZone)}`,
    `NOT EXISTS (SELECT FROM visitor v WHERE v.site_id = ${siteId} AND v.id = opened.visitor_id AND v.left_out IS NOT NULL)`,
  ]
  const inSession = `steps.visitor_id = opened.visitor_id AND steps.session_id = opened.session_id`
  for (const { name, value } of parts) {
    if (name === 'variant') {
      const [experiment, position] = value.split('.').map(Number)
      conditions.push(
        `EXISTS (SELECT FROM steps JOIN (
      SELECT visitor_id, exposed_at FROM exposure
      WHERE site_id = ${siteId} AND experiment_id = ${experiment} AND variant = ${position} AND left_out IS NULL
      UNION ALL
      SELECT e.visitor_id, min(e.occurred_at) FROM exposure x
      JOIN event e ON e.site_id = x.site_id AND '~' || e.person_id = x.visitor_id AND e.experiment_id = x.experiment_id
      WHERE x.site_id = ${siteId} AND x.experiment_id = ${experiment} AND x.variant = ${position} AND x.left_out IS NULL
      GROUP BY e.visitor_id
    ) x ON x.visitor_id = steps.visitor_id AND steps.at >= x.exposed_at WHERE ${inSession})`,
      )
    } else if (name === 'attribute') {
      const [of = '', ...told] = value.split('=')
      conditions.push(
        `EXISTS (SELECT FROM page_view p WHERE p.site_id = ${siteId} AND p.visitor_id = opened.visitor_id AND p.session_id = opened.session_id AND p.attributes->>${text(of)} = ${text(told.join('='))})`,
      )
    } else if (isOwn(name)) {
      const metric = (await metricSource(source, value))!
      const found = `EXISTS (SELECT FROM steps WHERE ${inSession} AND ${counted(metric, site)})`
      conditions.push(name === 'converted' ? found : `NOT ${found}`)
    } else conditions.push(value === UNKNOWN ? `"${name}" IS NULL` : `"${name}" = ${text(value)}`)
  }
  const rule = filter.page ? readPage(filter.page) : null
  if (rule) conditions.push(`EXISTS (SELECT FROM steps WHERE ${inSession} AND kind = 'page' AND ${onPage(rule, site)})`)
  const named = dimensions.map((each) => `,\n    ${columnOf(each, site)} AS "${each}"`).join('')
  return `steps AS (
  SELECT site_id, visitor_id, session_id, occurred_at AS at, seq, 'page' AS kind, address, NULL AS element, NULL AS name,
    NULL::numeric AS amount, NULL AS once, NULL::jsonb AS properties, NULL::jsonb AS details
  FROM page_view WHERE site_id = ${siteId}
  UNION ALL
  SELECT site_id, visitor_id, session_id, occurred_at, seq, type, address, element, name, amount, once, properties, details
  FROM event WHERE site_id = ${siteId} AND type NOT IN ('exposure', 'drift')
), opened AS (
  SELECT DISTINCT ON (visitor_id, session_id) visitor_id, session_id, occurred_at AS began, window_width AS width${named}
  FROM page_view WHERE site_id = ${siteId}
  ORDER BY visitor_id, session_id, occurred_at, seq
), chosen AS (
  SELECT * FROM opened
  WHERE ${conditions.join('\n    AND ')}
), own AS (
  SELECT steps.*, chosen.began, chosen.width${dimensions.map((each) => `, chosen."${each}"`).join('')}
  FROM steps JOIN chosen USING (visitor_id, session_id)
)`
}

function isOwn(name: string): name is (typeof OTHER_PARTS)[number] {
  return OTHER_PARTS.some((each) => each === name)
}

export const STATEMENTS: Statements = {
  async pages(source, question) {
    const metric = await metricSource(source, question.metric)
    return `WITH ${await chosen(source, question)}, views AS (
  SELECT visitor_id, session_id, at, seq, ${pageColumn(source.site)} AS page,
    row_number() OVER (PARTITION BY visitor_id, session_id ORDER BY at, seq) AS nth,
    count(*) OVER (PARTITION BY visitor_id, session_id) AS of
  FROM own WHERE kind = 'page'
), converted AS (
  SELECT visitor_id, session_id, (array_agg(at ORDER BY at DESC, seq DESC))[1] AS at, (array_agg(seq ORDER BY at DESC, seq DESC))[1] AS seq
  FROM own steps WHERE ${metric ? counted(metric, source.site) : 'false'}
  GROUP BY visitor_id, session_id
), others AS (
  SELECT ${pageColumn(source.site)} AS page, count(*) FILTER (WHERE kind = 'error') AS errors,
    coalesce(sum((properties->>'seen')::float8) FILTER (WHERE kind = 'reading'), 0) AS seen,
    count(DISTINCT (visitor_id, session_id)) FILTER (WHERE kind = 'reading') AS told
  FROM own WHERE kind IN ('error', 'reading') GROUP BY 1
), counted AS (
  SELECT page, count(*) AS views, count(DISTINCT views.visitor_id) AS visitors,
    count(DISTINCT (views.visitor_id, views.session_id)) AS sessions,
    count(*) FILTER (WHERE nth = 1) AS entries, count(*) FILTER (WHERE nth = of) AS exits,
    count(*) FILTER (WHERE of = 1) AS bounces,
    count(DISTINCT (views.visitor_id, views.session_id)) FILTER (WHERE (views.at, views.seq) <= (c.at, c.seq)) AS conversions,
    count(DISTINCT views.visitor_id) FILTER (WHERE (views.at, views.seq) <= (c.at, c.seq)) AS converters
  FROM views LEFT JOIN converted c USING (visitor_id, session_id) GROUP BY page
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
    const active = (days: number) =>
      `(SELECT count(DISTINCT v.visitor_id) FROM visits v WHERE v.value IS NOT DISTINCT FROM d.value AND v.day BETWEEN d.day - ${days - 1} AND d.day)::float8`
    return `WITH ${await chosen(source, filter, [...new Set(['visitor' as const, ...(by ? [by] : [])])])}, top AS (
  SELECT ${value} AS value FROM chosen WHERE began >= ${midnight(question.from, timeZone)}
  GROUP BY 1 ORDER BY count(*) DESC, min(began) LIMIT 6
), visits AS (
  SELECT visitor_id, session_id, ${dayOf} AS day, "visitor" AS nth, ${by ? `CASE WHEN ${value} IN (SELECT value FROM top) THEN ${value} ELSE ${text(OTHERS)} END` : 'NULL::text'} AS value
  FROM chosen
), gained AS (
  SELECT visitor_id, session_id, sum(${metric ? amountOf(metric) : 1}) AS sum
  FROM own steps WHERE ${metric ? counted(metric, source.site) : 'false'} GROUP BY 1, 2
), counted AS (
  SELECT value, day, count(DISTINCT visitor_id) AS visitors,
    count(DISTINCT visitor_id) FILTER (WHERE nth = 'new') AS new_visitors,
    count(DISTINCT visitor_id) FILTER (WHERE nth IS DISTINCT FROM 'new') AS came_back,
    count(*) AS sessions, count(DISTINCT visitor_id) FILTER (WHERE gained.sum IS NOT NULL) AS converted,
    coalesce(sum(gained.sum), 0) AS sum
  FROM visits LEFT JOIN gained USING (visitor_id, session_id) GROUP BY 1, 2
), viewed AS (
  SELECT visits.value, visits.day, count(*) AS views
  FROM visits JOIN own USING (visitor_id, session_id) WHERE kind = 'page' GROUP BY 1, 2
), days AS (
  SELECT v.value, d::date AS day FROM (SELECT DISTINCT value FROM visits) v
  CROSS JOIN generate_series(date ${text(question.from)}, date ${text(question.to)}, interval '1 day') d
)
SELECT d.value, d.day::text AS day, coalesce(visitors, 0)::float8 AS visitors, coalesce(new_visitors, 0)::float8 AS "newVisitors",
  coalesce(came_back, 0)::float8 AS "returning", coalesce(sessions, 0)::float8 AS sessions, coalesce(views, 0)::float8 AS views,
  ${active(ACTIVE_DAYS.weekly)} AS weekly, ${active(ACTIVE_DAYS.monthly)} AS monthly,
  coalesce(converted, 0)::float8 AS converted, coalesce(sum, 0)::float8 AS sum
FROM days d LEFT JOIN counted c ON c.value IS NOT DISTINCT FROM d.value AND c.day = d.day
LEFT JOIN viewed w ON w.value IS NOT DISTINCT FROM d.value AND w.day = d.day ORDER BY d.value, d.day`
  },

  async funnel(source, question) {
    const { steps, isStrict, limitMinutes, isWithinSession } = question.plan
    const tests = steps.map(({ source: step }) => counted(step, source.site))
    const unit = isWithinSession ? "visitor_id || ' ' || session_id" : 'visitor_id'
    const nextIs = tests.slice(1).map((_, index) => `WHEN ${index + 1} THEN o.is${index + 2}`)
    const breaks = steps.slice(1).map(({ source: { type } }, index) => `WHEN ${index + 1} THEN ${type === 'visit'}`)
    const times = steps.slice(1).map((_, index) => {
      const spent = `extract(epoch FROM times[${index + 2}] - times[${index + 1}]) * 1000`
      return `percentile_cont(ARRAY[0.25, 0.5, 0.75]) WITHIN GROUP (ORDER BY (${spent})::float8) FILTER (WHERE depth >= ${index + 2}) AS time${index + 2}`
    })
    return `WITH RECURSIVE ${await chosen(source, question)}, told AS (
  SELECT ${unit} AS unit, at, seq, kind, ${tests.map((test, index) => `(${test}) AS is${index + 1}`).join(',\n    ')}
  FROM own steps
), way AS (
  SELECT * FROM told WHERE ${tests.map((_, index) => `is${index + 1}`).join(' OR ')}${isStrict ? " OR kind = 'page'" : ''}
), tried AS (
  SELECT unit, at AS began, seq AS first, 1 AS depth, at, seq, ARRAY[at] AS times FROM way WHERE is1
  UNION ALL
  SELECT t.unit, t.began, t.first, t.depth + 1, n.at, n.seq, t.times || n.at
  FROM tried t CROSS JOIN LATERAL (
    SELECT o.at, o.seq, CASE t.depth ${nextIs.join(' ')} END AS is_next FROM way o
    WHERE o.unit = t.unit AND (o.at, o.seq) > (t.at, t.seq)
      AND (CASE t.depth ${nextIs.join(' ')} END${isStrict ? ` OR (o.kind = 'page' AND CASE t.depth ${breaks.join(' ')} END)` : ''})
    ORDER BY o.at, o.seq LIMIT 1
  ) n WHERE n.is_next${limitMinutes === null ? '' : ` AND n.at <= t.began + interval '${limitMinutes} minutes'`}
), best AS (
  SELECT DISTINCT ON (unit) * FROM tried ORDER BY unit, depth DESC, began, first
)
SELECT ${steps.map((_, index) => `count(*) FILTER (WHERE depth >= ${index + 1})::float8 AS reached${index + 1}`).join(', ')},
  ${times.join(',\n  ')}
FROM best`
  },

  async forms(source, question) {
    const quartiles = (column: string) => `percentile_cont(ARRAY[0.25, 0.5, 0.75]) WITHIN GROUP (ORDER BY ${column})`
    return `WITH ${await chosen(source, question)}, ${toldForms('own', source.site)}, visits AS (
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
SELECT s.page, s.form, f.field, s.seen, s.begun, s.sent, coalesce(f.reached, 0)::float8 AS reached, f.time, f.hesitation,
  coalesce(f.refilled, 0)::float8 AS refilled, coalesce(f.blank, 0)::float8 AS blank, coalesce(l.left_at, 0)::float8 AS "left"
FROM (
  SELECT page, form, count(*)::float8 AS seen,
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
    const inSession = 's.visitor_id = chosen.visitor_id AND s.session_id = chosen.session_id'
    const conditions = (readHappenings(happened) ?? []).map((each) =>
      each === 'left-form'
        ? `(SELECT kind FROM own s WHERE ${inSession} AND kind IN ('field', 'submit') ORDER BY at DESC, seq DESC LIMIT 1) = 'field'`
        : `EXISTS (SELECT FROM own s WHERE ${inSession} AND kind = ${text(each)})`,
    )
    if (clicked) {
      const words = text(clicked.toLowerCase())
      conditions.push(
        `EXISTS (SELECT FROM own s JOIN event e USING (visitor_id, seq) WHERE e.site_id = ${source.siteId} AND ${inSession} AND kind = 'click' AND (position(${words} IN lower(coalesce(e.label, ''))) > 0 OR position(${words} IN lower(s.element)) > 0))`,
      )
    }
    return `WITH ${await chosen(source, filter)}
SELECT visitor_id AS visitor, session_id AS session
FROM chosen JOIN recording r USING (visitor_id, session_id)
WHERE r.site_id = ${source.siteId}
  AND (SELECT extract(epoch FROM max(at) - min(at)) FROM own s WHERE ${inSession}) >= ${seconds}${conditions
    .map(
      (each) => `
  AND ${each}`,
    )
    .join('')}
ORDER BY r.started_at DESC`
  },

  async flow(source, question) {
    return `WITH ${await chosen(source, question, ['source'])}, views AS (
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
    return `WITH ${await chosen(source, question)}, last AS (
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
    return `WITH ${await chosen(source, question)}
SELECT (properties->>'survey')::int AS survey, count(DISTINCT visitor_id) FILTER (WHERE kind = 'asked')::float8 AS asked,
  count(DISTINCT visitor_id) FILTER (WHERE kind = 'answer')::float8 AS answered
FROM own WHERE kind IN ('asked', 'answer') GROUP BY 1 ORDER BY 1`
  },

  async candidates(source, question) {
    const { timeZone } = source.site.basis
    const both = { ...question, from: rangeBefore(question).from }
    const onPhone = `"device" IS NOT DISTINCT FROM 'phone'`
    const times = (device: string) => `percentile_disc(0.5) WITHIN GROUP (ORDER BY time) FILTER (WHERE ${device})`
    return `WITH ${await chosen(source, both, ['device'])}, now AS (
  SELECT * FROM own WHERE began >= ${midnight(question.from, timeZone)}
), ${toldForms('now', source.site)}, begun AS (
  SELECT DISTINCT ON (visitor_id, page, form) visitor_id, session_id, page, form, "device"
  FROM told WHERE kind = 'field' ORDER BY visitor_id, page, form, began, session_id
), last AS (
  SELECT DISTINCT ON (visitor_id, page, form) visitor_id, page, form, name AS field
  FROM told JOIN begun USING (visitor_id, session_id, page, form) WHERE kind = 'field'
  ORDER BY visitor_id, page, form, at DESC, seq DESC
), fields AS (
  SELECT b.visitor_id, b.session_id, page, form, b."device", name AS field, sum((properties->>'time')::float8) AS time,
    (b.visitor_id, page, form, name) IN (SELECT * FROM last)
      AND (b.visitor_id, b.session_id, page, form) NOT IN (SELECT * FROM sent) AS is_left
  FROM told JOIN begun b USING (page, form) WHERE kind = 'field' AND told.visitor_id = b.visitor_id
    AND told.session_id = b.session_id GROUP BY 1, 2, 3, 4, 5, 6
), of_form AS (
  SELECT page, form, count(*) FILTER (WHERE ${onPhone}) AS phones, count(*) FILTER (WHERE NOT (${onPhone})) AS others
  FROM begun GROUP BY 1, 2
), clicked AS (
  SELECT ${pageColumn(source.site)} AS page, element, count(DISTINCT visitor_id) AS visitors,
    count(DISTINCT visitor_id) FILTER (WHERE kind = 'dead') AS dead
  FROM now WHERE kind IN ('click', 'dead')
    AND (visitor_id, session_id) IN (SELECT visitor_id, session_id FROM now WHERE kind IN ('reading', 'dead'))
  GROUP BY 1, 2
), viewed AS (
  SELECT visitor_id, session_id, began >= ${midnight(question.from, timeZone)} AS is_now, ${pageColumn(source.site)} AS page,
    row_number() OVER (PARTITION BY visitor_id, session_id ORDER BY at DESC, seq DESC) = 1 AS is_last
  FROM own WHERE kind = 'page'
), sessions AS (
  SELECT visitor_id, session_id, is_now, page, bool_or(is_last) AS is_last FROM viewed GROUP BY 1, 2, 3, 4
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
    return `WITH ${await chosen(source, question)}
SELECT element AS path, count(*)::float8 AS clicks, count(DISTINCT visitor_id)::float8 AS visitors
FROM own WHERE kind = ${text(question.kind)} AND ${onPage(readPage(question.of)!, source.site)}
  AND coalesce(width, 0) >= ${question.widthFrom} AND coalesce(width, 0) < ${question.widthBelow}
GROUP BY element ORDER BY clicks DESC, path`
  },

  async reading(source, question) {
    const bands = Array.from({ length: BANDS }, (_, band) => band)
    return `WITH ${await chosen(source, question)}, readings AS (
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
