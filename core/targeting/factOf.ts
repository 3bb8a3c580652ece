import { CAMPAIGN_PARAMETERS } from './address'
import type { FactTest } from './condition'
import { matchesPageRule } from './pageRule'
import { readAddress } from './readAddress'
import { sourceKind } from './sourceKind'
import { WEEKDAYS, type VisitorFacts } from './visitorFacts'
import { DAY } from '../time/units'

/** What is found for a test; null for what is not known. */
export type Value = string | number | boolean | readonly unknown[] | null

/** The value that a test asks about. Never throws, whatever the page has given. */
export function factOf(test: FactTest, facts: VisitorFacts): Value {
  const { fact, name = '' } = test
  switch (fact) {
    case 'source':
    case 'medium':
    case 'campaign':
    case 'term':
    case 'content':
      return facts.landing === undefined
        ? null
        : (parameter(facts.landing, CAMPAIGN_PARAMETERS[CAMPAIGN_FACTS.indexOf(fact)]!) ?? null)
    case 'adCampaign':
    case 'adGroup':
    case 'adKeyword': {
      const asked = facts.adParameters?.[AD_FACTS[fact]]
      return asked && facts.landing !== undefined ? parameter(facts.landing, asked) : null
    }
    case 'parameter':
      return facts.address === undefined ? null : parameter(facts.address, name)
    case 'sourceKind':
      return facts.landing === undefined ? null : sourceKind(facts.landing, facts.referrer ?? '')
    case 'landing':
      return facts.landing === undefined ? null : (readAddress(facts.landing)?.pathname ?? null)
    case 'visitor':
      return facts.visits === undefined ? null : facts.visits > 1 ? 'returning' : 'new'
    case 'daysSinceFirst':
      return facts.firstSeen === undefined ? null : Math.floor((facts.now - facts.firstSeen) / DAY)
    case 'weekday':
    case 'hour':
    case 'date':
      return timeOf(test, facts)
    case 'seen':
    case 'did':
      return countDone(test, facts)
    case 'cookie':
      return facts.cookies ? (facts.cookies[name] ?? null) : null
    case 'attribute':
      return plain(facts.attributes?.[name])
    case 'data':
      return plain(inside(facts.data, name))
    case 'variant': {
      const position = facts.variants?.[test.id ?? 0]
      return position === undefined ? null : (test.numbers ?? []).includes(position)
    }
    case 'audience':
      return null
    default:
      return facts[fact] ?? null
  }
}

const AD_FACTS = { adCampaign: 'campaign', adGroup: 'group', adKeyword: 'keyword' } as const
const CAMPAIGN_FACTS: readonly string[] = ['source', 'medium', 'campaign', 'term', 'content']

function parameter(address: string, name: string): string | null {
  return readAddress(address)?.searchParams.get(name) ?? null
}

/** How often something was done, or a page seen, within the days. */
function countDone(test: FactTest, { now, events, pages, timesDone }: VisitorFacts): number | null {
  if (timesDone) return timesDone(test, now)
  const { fact, name, days, page } = test
  const from = days === undefined ? -Infinity : now - days * DAY
  const isLately = ({ at }: { at: number }) => at >= from && at <= now
  if (fact === 'did') return events ? events.filter((each) => each.name === name && isLately(each)).length : null
  if (!pages || !page) return null
  return pages.filter((each) => isLately(each) && matchesPageRule(page, each.address)).length
}

/** Hour from 0 to 23, name of the weekday, or the day as a number such as 20261126, in the zone that is asked for. */
function timeOf({ fact, zone }: FactTest, { now, timeZone, siteTimeZone }: VisitorFacts): Value {
  const where = zone === 'visitor' ? timeZone : (siteTimeZone ?? 'UTC')
  if (where === undefined) return null
  const format = clock(where)
  if (!format) return null
  const parts = Object.fromEntries(format.formatToParts(now).map(({ type, value }) => [type, value]))
  if (fact === 'hour') return Number(parts.hour)
  const [year, month, day] = [Number(parts.year), Number(parts.month), Number(parts.day)]
  if (fact === 'date') return year * 10_000 + month * 100 + day
  return WEEKDAYS[(new Date(Date.UTC(year, month - 1, day)).getUTCDay() + 6) % 7]!
}

const clocks = new Map<string, Intl.DateTimeFormat | null>()
function clock(timeZone: string): Intl.DateTimeFormat | null {
  let found = clocks.get(timeZone)
  if (found === undefined) {
    try {
      const fields = { year: 'numeric', month: 'numeric', day: 'numeric', hour: 'numeric', hourCycle: 'h23' } as const
      found = new Intl.DateTimeFormat('en-US', { ...fields, timeZone })
    } catch {
      found = null
    }
    clocks.set(timeZone, found)
  }
  return found
}

/** The value at the end of a way such as basket.total; only what an object has of its own. */
function inside(data: unknown, way: string): unknown {
  let value = data
  for (const step of way.split('.')) {
    if (typeof value !== 'object' || value === null || !Object.hasOwn(value, step)) return undefined
    value = Reflect.get(value, step) as unknown
  }
  return value
}

/** What can be compared: no objects, and no numbers that are none. */
function plain(value: unknown): Value {
  if (typeof value === 'string' || typeof value === 'boolean') return value
  if (typeof value === 'number') return Number.isNaN(value) ? null : value
  return Array.isArray(value) ? value : null
}
