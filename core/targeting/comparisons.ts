import type { Comparison } from './condition'
import { WEEKDAYS, type Fact } from './visitorFacts'
import { SOURCE_KINDS } from './sourceKind'

const TEXTS: readonly Comparison[] = ['oneOf', 'begins', 'contains', 'ends', 'regex', 'known']
const NUMBERS: readonly Comparison[] = ['least', 'most', 'between', 'equals']
const VERSIONS: readonly Comparison[] = ['versionLeast', 'versionMost']

/** How a fact can be compared, what is asked most often first. */
export function comparisonsOf(fact: Fact): readonly Comparison[] {
  switch (fact) {
    case 'device':
    case 'visitor':
    case 'sourceKind':
    case 'weekday':
      return ['oneOf']
    case 'browserVersion':
      return VERSIONS
    case 'screenWidth':
    case 'visits':
    case 'daysSinceFirst':
    case 'hour':
    case 'seen':
    case 'did':
      return NUMBERS
    case 'date':
      return ['least', 'most', 'between']
    case 'attribute':
    case 'data':
      return [...TEXTS, ...NUMBERS, 'yes', 'no', 'has', ...VERSIONS]
    case 'variant':
    case 'audience':
      return ['yes', 'no']
    default:
      return TEXTS
  }
}

/** The only values that a fact can have; null where there are more than can be listed. */
export function valuesOf(fact: Fact): readonly string[] | null {
  switch (fact) {
    case 'device':
      return ['phone', 'tablet', 'desktop', 'other']
    case 'visitor':
      return ['new', 'returning']
    case 'sourceKind':
      return SOURCE_KINDS
    case 'weekday':
      return WEEKDAYS
    default:
      return null
  }
}

export const TEXT_COMPARISONS: readonly Comparison[] = [
  ...(['oneOf', 'begins', 'contains', 'ends', 'regex', 'has', 'versionLeast', 'versionMost'] as const),
]
export const NUMBER_COMPARISONS: readonly Comparison[] = NUMBERS
