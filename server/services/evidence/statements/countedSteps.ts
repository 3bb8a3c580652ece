import type { CountedSource } from '../../../../core/evidence/countedSteps'
import { isWithin } from '../../../../core/measurement/elementPath'
import type { DetailTest } from '../../../../core/measurement/eventDetails'
import { isOfVisits, LEADING_ELEMENT, type VisitSource } from '../../../../core/measurement/metric'
import { decimalsOf } from '../../../../core/measurement/money'
import type { SiteVisits } from '../siteVisits'
import { onPage } from './addressRules'
import { text } from './literals'

/** Whether a row of `steps` is what a source counts. Selectors are asked of the elements that occur. */
export function counted(source: CountedSource, site: SiteVisits): string {
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
export function amountOf({ type }: CountedSource, site: SiteVisits): string {
  if (type === 'visitTime')
    return `(SELECT round(extract(epoch FROM max(p.occurred_at) - min(p.occurred_at))) ${pagesOf('=')})`
  if (type === 'timeInView') return "(properties->>'seen')::numeric / 1000"
  return `CASE WHEN kind IN ('amount', 'custom') THEN ${moneyOf(site)} ELSE 1 END`
}

/** An amount in the site's currency by the rate of its day: 1 for an event without one, 0 where there is no rate. */
function moneyOf({ basis: { currency, timeZone } }: SiteVisits): string {
  const rate = `(SELECT r.rate::numeric FROM currency_rate r
      WHERE r.site_id = steps.site_id AND r.currency = steps.currency AND r."from" <= (steps.at AT TIME ZONE ${text(timeZone)})::date
      ORDER BY r."from" DESC LIMIT 1)`
  return `CASE WHEN amount IS NULL THEN 1 WHEN currency IS NULL OR currency = ${text(currency)} THEN amount
      ELSE coalesce(round(amount * ${rate}, ${decimalsOf(currency)}), 0) END`
}
