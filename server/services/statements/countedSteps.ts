import type { CountedSource } from '../../../core/evidence/countedSteps'
import { countingOf, type StepCounting, type StepTest, type VisitCounting } from '../../../core/measurement/counting'
import { isWithin } from '../../../core/measurement/elementPath'
import type { DetailTest } from '../../../core/measurement/eventDetails'
import { decimalsOf } from '../../../core/measurement/money'
import type { Occurring } from './occurring'
import { onPage } from './addressRules'
import { text } from './literals'

/**
 * Whether a row of `steps` is what a source counts, as `core/measurement/counting.ts` says it. Selectors are asked of
 * the elements that occur.
 */
export function counted(source: CountedSource, site: Occurring): string {
  const counting = countingOf(source)
  return counting.of === 'visits' ? countedVisit(counting) : countedStep(counting, site)
}

/** What only the statement knows that a step stands in. */
export interface StepConditions {
  /** Whether a step is the first that tells of what it tells of. */
  isFirst: string
  /** Whether it is on a page of the experiment; null where there is none. */
  isOnTested: string | null
}

/** Whether a row of `steps` is one of those that are counted. */
export function countedStep(
  { anyOf, pages, isOnce }: StepCounting,
  site: Occurring,
  { isFirst, isOnTested }: StepConditions = { isFirst: IS_FIRST, isOnTested: null },
): string {
  const tests = anyOf.map((test) => fits(test, site))
  return [
    tests.length === 1 ? tests[0]! : `(${tests.map((test) => `(${test})`).join(' OR ')})`,
    ...(pages === 'tested' ? [isOnTested ?? 'true'] : pages ? [onPage(pages, site)] : []),
    ...(isOnce ? [isFirst] : []),
  ].join(' AND ')
}

/** Of steps that tell of the same thing again, only the first is counted. */
const IS_FIRST = `(once IS NULL OR NOT EXISTS (SELECT FROM event e WHERE e.site_id = steps.site_id AND e.visitor_id = steps.visitor_id AND e.once = steps.once AND (e.occurred_at, e.seq) < (steps.at, steps.seq)))`

function fits({ kind, within, name, detail }: StepTest, { visits }: Occurring): string {
  const elements = (selector: string) => {
    const found = visits.elements.texts.filter((element) => element !== '' && isWithin(element, selector))
    return `element IN (${found.map(text).join(', ') || 'NULL'})`
  }
  return [
    `kind = ${text(kind)}`,
    ...(within === undefined ? [] : [elements(within)]),
    ...(name === undefined ? [] : [`name = ${text(name)}`]),
    ...(detail ? [saysDetail(detail)] : []),
  ].join(' AND ')
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
function countedVisit({ which }: VisitCounting): string {
  const isLast = `kind = 'page' AND NOT EXISTS (SELECT ${pagesOf('=')} AND (p.occurred_at, p.seq) > (steps.at, steps.seq))`
  if (which === 'each') return isLast
  if (which === 'onePage') return `${isLast} AND (SELECT count(*) ${pagesOf('=')}) = 1`
  const began = `(SELECT min(p.occurred_at) ${pagesOf('=')})`
  return `${isLast} AND EXISTS (SELECT 1 FROM (SELECT max(p.occurred_at) AS ended ${pagesOf('<>')} GROUP BY p.session_id) others
      WHERE ended < ${began} AND ended >= ${began} - interval '${which.withinDays} days')`
}

/** What a counted row of `steps` adds. */
export function amountOf(source: CountedSource, site: Occurring): string {
  const { of, adds } = countingOf(source)
  if (adds === 'one') return '1'
  if (adds === 'money') return moneyOf(site)
  if (of === 'steps') return "(properties->>'seen')::numeric / 1000"
  return `(SELECT round(extract(epoch FROM max(p.occurred_at) - min(p.occurred_at))) ${pagesOf('=')})`
}

/** An amount in the site's currency by the rate of its day: 1 for an event without one, 0 where there is no rate. */
function moneyOf({ basis: { currency, timeZone } }: Occurring): string {
  const rate = `(SELECT r.rate::numeric FROM currency_rate r
      WHERE r.site_id = steps.site_id AND r.currency = steps.currency AND r."from" <= (steps.at AT TIME ZONE ${text(timeZone)})::date
      ORDER BY r."from" DESC LIMIT 1)`
  return `CASE WHEN amount IS NULL THEN 1 WHEN currency IS NULL OR currency = ${text(currency)} THEN amount
      ELSE coalesce(round(amount * ${rate}, ${decimalsOf(currency)}), 0) END`
}
