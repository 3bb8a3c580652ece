import { comparisonsOf } from '~~/core/targeting/comparisons'
import type { Comparison, FactTest } from '~~/core/targeting/condition'
import { NAMED_FACTS, type Fact } from '~~/core/targeting/visitorFacts'

/** Facts in the order in which they are offered. */
export const FACT_GROUPS: readonly { label: string; facts: readonly Fact[] }[] = [
  { label: 'Browser', facts: ['device', 'system', 'browser', 'browserVersion', 'screenWidth', 'language'] },
  { label: 'Place', facts: ['country', 'region', 'city', 'timeZone'] },
  {
    label: 'Where from',
    facts: [
      'sourceKind',
      'source',
      'medium',
      'campaign',
      'term',
      'content',
      'adCampaign',
      'adGroup',
      'adKeyword',
      'referrer',
      'landing',
      'parameter',
    ],
  },
  { label: 'Before', facts: ['visitor', 'visits', 'daysSinceFirst', 'seen', 'did', 'variant'] },
  { label: 'When', facts: ['weekday', 'hour', 'date'] },
  { label: 'What the page says', facts: ['attribute', 'data', 'cookie'] },
  { label: 'Saved', facts: ['audience'] },
]

export const COMPARISON_LABELS: Record<Comparison, string> = {
  oneOf: 'is',
  begins: 'begins with',
  contains: 'contains',
  ends: 'ends with',
  regex: 'fits the expression',

  equals: 'is exactly',
  least: 'is at least',
  most: 'is at most',
  between: 'lies between',

  versionLeast: 'is this or newer',
  versionMost: 'is this or older',
  yes: 'is yes',
  no: 'is no',

  has: 'is a list with',
  known: 'is there',
}

/** A test with nothing in it yet. */
export function newTest(fact: Fact): FactTest {
  return {
    fact,
    is: comparisonsOf(fact)[0]!,
    ...(NAMED_FACTS.includes(fact) ? { name: '' } : {}),
    ...(fact === 'did' || fact === 'seen' ? { number: 1 } : {}),
    ...(fact === 'seen' ? { page: { match: 'begins' as const, value: '' } } : {}),
    ...(['hour', 'weekday', 'date'].includes(fact) ? { zone: 'site' as const } : {}),
  }
}

/** 2026-11-26 of 20261126, as fields for days have it. */
export function dayFromNumber(number: number | undefined): string {
  return number === undefined ? '' : String(number).replace(/^(\d{4})(\d{2})(\d{2})$/, '$1-$2-$3')
}

export function numberFromDay(day: string): number | undefined {
  return /^\d{4}-\d{2}-\d{2}$/.test(day) ? Number(day.replaceAll('-', '')) : undefined
}
