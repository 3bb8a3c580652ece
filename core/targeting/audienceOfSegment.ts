import type { Condition, FactTest, Group } from './condition'
import type { Fact } from './visitorFacts'

/** A part of a segment of reports: a dimension of visits and a value, or something that happened in them. */
export interface SegmentPart {
  name: string
  value: string
}

/** Dimensions that are facts of the same name, with values that are the same. */
const SAME: readonly string[] = [
  ...['device', 'browser', 'system', 'country', 'region', 'city', 'medium', 'campaign', 'term', 'content'],
  ...['timeZone', 'visitor', 'landing'],
]
const UNKNOWN = 'unknown'

/**
 * Conditions that let in whom a segment of reports is of; null where nobody is asked for, or where a part tells of what
 * visitors only do later, as a conversion.
 *
 * @example audienceOfSegment([{ name: 'device', value: 'phone' }])
 * // { join: 'all', of: [{ fact: 'device', is: 'oneOf', texts: ['phone'] }] }
 */
export function audienceOfSegment(parts: readonly SegmentPart[]): Group | null {
  if (parts.length === 0) return null
  const of = parts.map(conditionOf)
  return of.every((each) => each !== null) ? { join: 'all', of } : null
}

function conditionOf({ name, value }: SegmentPart): Condition | null {
  const is = (fact: Fact, text: string): FactTest => ({ fact, is: 'oneOf', texts: [text] })
  if (name === 'source') {
    if (value === 'direct') return { join: 'all', of: [{ join: 'none', of: [known('source')] }, is('referrer', '')] }
    return { join: 'any', of: [is('source', value), is('referrer', value)] }
  }
  if (name === 'language')
    return value === UNKNOWN
      ? { join: 'none', of: [known('language')] }
      : { fact: 'language', is: 'begins', texts: [value] }
  if (name === 'attribute') {
    const [of = '', ...told] = value.split('=')
    return attributeIs(of, told.join('='))
  }
  if (name === 'variant') {
    const [id, position] = value.split('.').map(Number)
    return { fact: 'variant', is: 'yes', id, numbers: [position!] }
  }
  if (!SAME.includes(name)) return null
  return value === UNKNOWN ? { join: 'none', of: [known(name as Fact)] } : is(name as Fact, value)
}

/** Reports show numbers, yes and no as texts. */
function attributeIs(name: string, told: string): Condition {
  const asText: FactTest = { fact: 'attribute', name, is: 'oneOf', texts: [told] }
  if (told === 'true' || told === 'false') return { fact: 'attribute', name, is: told === 'true' ? 'yes' : 'no' }
  if (told === '' || Number.isNaN(Number(told))) return asText
  return { join: 'any', of: [asText, { fact: 'attribute', name, is: 'equals', number: Number(told) }] }
}

function known(fact: Fact): FactTest {
  return { fact, is: 'known' }
}
