import type { ExperimentSheet, MetricView } from '../../../../shared/experiments/replies'
import { PERSON } from '../../../../core/identity/personId'
import { countingOf, type StepCounting, type VisitCounting } from '../../../../core/measurement/counting'
import type { MetricSource } from '../../../../core/measurement/metric'
import { PAST_DAYS, SAME_VISIT_MINUTES } from '../../../../core/measurement/visitorNumbers'
import { matchesPage } from '../../../../core/targeting/pageRule'
import { amountOf, countedStep } from '../../statements/countedSteps'
import { text } from '../../statements/literals'
import type { Occurring } from '../../statements/occurring'
import { STEP_NAMES, stepColumns } from '../../statements/stepColumns'
import { MEASURED_EVENTS } from '../measureVisitors'

/** Whether it happened while the visitor is measured, or is the past that metrics are adjusted by. */
type Part = 'during' | 'past'

/** One of a visitor's numbers: what it is summed up over, and the sum. */
interface VisitorNumber {
  of: 'steps' | 'visits'
  sum: string
}

/**
 * A statement that computes a metric's sums from views and events, in place of the sums that are kept: visitors and sums
 * of each arm, and of those with an earlier visit what they did then. `exposure` is asked for one thing only: who is
 * left out. `tests/integration/counting.test.ts` holds that both come to the same.
 *
 * @param lastDay - last day of first exposures that count; null for all of them
 */
export function eventsSql(sheet: ExperimentSheet, metric: MetricView, site: Occurring, lastDay: string | null): string {
  const { siteId, id } = sheet
  const isOfPersons = sheet.terms.unit === 'person'
  const unit = isOfPersons ? `'${PERSON}' || person_id` : 'visitor_id'
  const folded = [
    `site_id = ${siteId}${isOfPersons ? ' AND person_id IS NOT NULL' : ''}`,
    `seq <= (SELECT seq FROM fold_cursor WHERE site_id = ${siteId})`,
    `seq NOT IN (SELECT seq FROM set_aside WHERE site_id = ${siteId})`,
  ].join(' AND ')
  const ends = [
    "timestamptz 'infinity'",
    ...(sheet.endedAt === null ? [] : [`timestamptz ${text(sheet.endedAt)}`]),
    ...(metric.windowDays === null ? [] : [`f.exposed_at + interval '${metric.windowDays * 24} hours'`]),
  ]
  const numbers: Record<string, VisitorNumber> = {
    value: numberOf(metric.source, 'during'),
    denominator: metric.denominator ? numberOf(metric.denominator, 'during') : { of: 'steps', sum: '0' },
    past: numberOf(metric.source, 'past'),
  }
  const sumsOf = (what: VisitorNumber['of']) =>
    Object.entries(numbers)
      .filter(([, { of }]) => of === what)
      .map(([name, { sum }]) => `,\n    ${sum} AS ${name}`)
      .join('')
  const capped = (sum: string) =>
    metric.cap === null ? sum : `CASE WHEN ${sum} > ${metric.cap} THEN ${metric.cap} ELSE ${sum} END`

  return `WITH first_exposure AS (
  SELECT DISTINCT ON (unit) unit, variant, occurred_at AS exposed_at, view_id FROM (
    SELECT ${unit} AS unit, variant, occurred_at, id, view_id FROM event
    WHERE type = 'exposure' AND experiment_id = ${id} AND ${folded}
  ) seen ORDER BY unit, occurred_at, id
), counting AS (
  SELECT f.*, least(${ends.join(', ')}) AS until FROM first_exposure f
  JOIN exposure x ON x.site_id = ${siteId} AND x.experiment_id = ${id} AND x.visitor_id = f.unit
  WHERE x.left_out IS NULL${lastDay === null ? '' : ` AND x.day <= ${text(lastDay)}`}
), happened AS (
  SELECT ${unit} AS unit, id, ${stepColumns('page_view')}
  FROM page_view WHERE ${folded}
  UNION ALL
  SELECT ${unit}, id, ${stepColumns('event')}
  FROM event WHERE type IN (${MEASURED_EVENTS.map(text).join(', ')}) AND ${folded}
), steps AS (
  SELECT unit, variant, exposed_at, until, ${STEP_NAMES.join(', ')},
    row_number() OVER (PARTITION BY unit, once ORDER BY at, id) AS telling,
    (at >= exposed_at OR (kind = 'page' AND id = view_id)) AND at <= until AS is_during,
    ${isPast('at')} AS is_past
  FROM happened JOIN counting USING (unit)
), visits AS (
  SELECT unit, exposed_at, until, min(at) AS started_at, max(at) AS ended_at, count(*) AS views
  FROM steps WHERE kind = 'page' GROUP BY unit, exposed_at, until, visitor_id, session_id
), own_steps AS (
  SELECT unit${sumsOf('steps')}
  FROM steps GROUP BY unit
), own_visits AS (
  SELECT unit${sumsOf('visits')}
  FROM (
    SELECT *, ended_at >= exposed_at - interval '${SAME_VISIT_MINUTES} minutes' AND started_at <= until AS is_during,
      ${isPast('ended_at')} AS is_past,
      array_agg(ended_at) FILTER (WHERE ${isPast('ended_at')}) OVER (PARTITION BY unit) AS past_ends
    FROM visits
  ) marked GROUP BY unit
), numbers AS (
  SELECT variant, ${capped('coalesce(value, 0)')} AS y, coalesce(denominator, 0) AS z, ${capped('past')} AS x
  FROM counting LEFT JOIN own_steps USING (unit) LEFT JOIN own_visits USING (unit)
)
SELECT variant, count(*) AS visitors, sum(y) AS sum, sum(y * y) AS squares, sum(z) AS denominator_sum,
  count(x) AS visitors_with_past, sum(x) AS past_sum, sum(x * x) AS past_squares, sum(x * y) AS past_products
FROM numbers GROUP BY variant ORDER BY variant`

  function numberOf(source: MetricSource, part: Part): VisitorNumber {
    const counting = countingOf(source)
    const isWhen = part === 'during' ? 'is_during' : 'is_past'
    const [isCounted, amount] =
      counting.of === 'visits'
        ? [isCountedVisit(counting, part), VISIT_AMOUNTS[counting.adds]]
        : [isCountedStep(counting), amountOf(source, site)]
    // A step that is counted has happened, whatever it adds; visits have happened where they come to something.
    const added = metric.kind === 'conversion' && counting.of === 'steps' ? '1' : amount
    const all = `coalesce(sum(CASE WHEN ${isWhen} AND ${isCounted} THEN ${added} END), 0)`
    const sum = metric.kind === 'conversion' ? `least(1, ${all})` : all
    return { of: counting.of, sum: part === 'during' ? sum : `CASE WHEN bool_or(is_past) THEN ${sum} END` }
  }

  function isCountedStep(counting: StepCounting): string {
    const tested = site.visits.addresses.texts.filter((address) => matchesPage(sheet.pageRules, address))
    return countedStep(counting, site, {
      isFirst: '(once IS NULL OR telling = 1)',
      isOnTested: `address IN (${tested.map(text).join(', ') || 'NULL'})`,
    })
  }
}

/** Whether a moment is in the past that metrics are adjusted by. */
function isPast(moment: string): string {
  return `(${moment} < exposed_at - interval '${SAME_VISIT_MINUTES} minutes' AND ${moment} >= exposed_at - interval '${PAST_DAYS * 24} hours')`
}

const VISIT_AMOUNTS = { one: '1', seconds: 'round(extract(epoch FROM ended_at - started_at))' } as const

/** As `core/measurement/visitSum.ts` counts visits: coming back is counted from the exposure on. */
function isCountedVisit({ which }: VisitCounting, part: Part): string {
  if (which === 'each') return 'true'
  if (which === 'onePage') return 'views = 1'
  const within = `interval '${which.withinDays * 24} hours'`
  return part === 'during'
    ? `started_at > exposed_at AND started_at <= exposed_at + ${within}`
    : `EXISTS (SELECT FROM unnest(past_ends) e WHERE e < started_at AND e >= started_at - ${within})`
}
