import { isGroup, type Condition, type FactTest } from './condition'
import { pageRulesInWords } from './pageWords'
import type { Fact } from './visitorFacts'

/** Names of what conditions refer to by number. */
export interface ConditionNames {
  audiences?: Readonly<Record<number, string>>
  experiments?: Readonly<Record<number, { name: string; variants: readonly string[] }>>
}

/**
 * A condition as a sentence that follows “visitors”.
 *
 * @example conditionInWords({ join: 'all', of: [phone, { join: 'none', of: [booked] }] })
 * // 'who use a phone and of whom not: they did “booked”'
 */
export function conditionInWords(condition: Condition, names: ConditionNames = {}): string {
  if (isGroup(condition) && condition.of.length === 0) return condition.join === 'any' ? 'nobody' : 'everybody'
  return inWords(condition, names, true)
}

function inWords(condition: Condition, names: ConditionNames, isOutermost: boolean): string {
  if (!isGroup(condition)) return testInWords(condition, names)
  const parts = condition.of.map((each) => inWords(each, names, false))
  if (parts.length === 0) return condition.join === 'any' ? 'nobody' : 'everybody'
  const joined = parts.join(condition.join === 'all' ? ' and ' : ' or ')
  if (condition.join === 'none') return parts.length === 1 ? `not ${parts[0]}` : `neither (${parts.join(' nor ')})`
  return isOutermost || parts.length === 1 ? joined : `(${joined})`
}

export const FACT_WORDS: Record<Fact, string> = {
  device: 'device',
  system: 'operating system',
  browser: 'browser',
  browserVersion: 'browser version',

  screenWidth: 'screen width',
  language: 'language',
  country: 'country',
  region: 'region',
  city: 'city',

  timeZone: 'time zone',
  source: 'campaign source',
  medium: 'campaign medium',
  campaign: 'campaign',

  term: 'campaign term',
  content: 'campaign content',
  adCampaign: 'ad campaign',
  adGroup: 'ad group',
  parameter: 'address parameter',

  adKeyword: 'ad keyword',
  referrer: 'linked from',

  sourceKind: 'kind of source',
  landing: 'landing page',
  visitor: 'new or returning',
  visits: 'number of visits',

  daysSinceFirst: 'days since the first visit',
  seen: 'pages seen before',
  did: 'events done before',

  weekday: 'weekday',
  hour: 'hour of the day',
  date: 'date',
  cookie: 'cookie',
  data: 'value in the page’s data',

  attribute: 'attribute',
  variant: 'variant of an experiment',
  audience: 'saved audience',
}

function testInWords(test: FactTest, names: ConditionNames): string {
  const { fact, name = '', is, id = 0, days } = test
  const lately = days === undefined ? '' : ` in the last ${days} ${days === 1 ? 'day' : 'days'}`
  switch (fact) {
    case 'audience':
      return `${is === 'no' ? 'not ' : ''}in “${names.audiences?.[id] ?? `audience ${id}`}”`
    case 'variant': {
      const experiment = names.experiments?.[id]
      const variants = (test.numbers ?? []).map((each) => experiment?.variants[each] ?? `variant ${each}`)
      const where = `of “${experiment?.name ?? `experiment ${id}`}”`
      return `${is === 'no' ? 'not ' : ''}in ${variants.join(' or ') || 'no variant'} ${where}`
    }
    case 'did':
      return `did “${name}” ${timesInWords(test)}${lately}`
    case 'seen':
      return `saw ${test.page ? pageRulesInWords([test.page]) : 'a page'} ${timesInWords(test)}${lately}`
    case 'date':
      return `on a day ${datesInWords(test)}`
    default:
      return `${FACT_WORDS[fact]}${name === '' ? '' : ` ${name}`} ${comparisonInWords(test)}${zoneInWords(test)}`
  }
}

function zoneInWords({ fact, zone }: FactTest): string {
  return fact === 'hour' || fact === 'weekday' ? `, in ${zone === 'visitor' ? 'the visitor’s' : 'the site’s'} time` : ''
}

function comparisonInWords(test: FactTest): string {
  const { is, texts = [] } = test
  const listed = texts.join(' or ') || '…'
  switch (is) {
    case 'oneOf':
      return `is ${listed}`
    case 'begins':
      return `begins with ${listed}`
    case 'contains':
      return `contains ${listed}`
    case 'ends':
      return `ends with ${listed}`
    case 'regex':
      return `fits the regular expression ${listed}`
    case 'has':
      return `has ${listed} in it`
    case 'versionLeast':
      return `is ${listed} or newer`
    case 'versionMost':
      return `is ${listed} or older`
    case 'yes':
    case 'no':
      return `is ${is}`
    case 'known':
      return 'is there'
    default:
      return `is ${numberInWords(test)}`
  }
}

function timesInWords(test: FactTest): string {
  if (test.is === 'least' && test.number === 1) return 'at least once'
  return test.is === 'equals' && test.number === 0 ? 'never' : `${numberInWords(test)} times`
}

function numberInWords({ is, number, to }: FactTest): string {
  const value = number ?? '…'
  if (is === 'least') return `at least ${value}`
  if (is === 'most') return `at most ${value}`
  return is === 'between' ? `from ${value} to ${to ?? '…'}` : `exactly ${value}`
}

function datesInWords({ is, number, to }: FactTest): string {
  const day = (value: number | undefined) =>
    value === undefined ? '…' : String(value).replace(/^(\d{4})(\d{2})(\d{2})$/, '$1-$2-$3')
  if (is === 'least') return `from ${day(number)} on`
  return is === 'most' ? `up to ${day(number)}` : `from ${day(number)} to ${day(to)}`
}
