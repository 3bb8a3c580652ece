import { expect, test } from 'vitest'
import { audienceOfSegment } from './audienceOfSegment'
import { holds } from './condition'
import type { VisitorFacts } from './visitorFacts'

const visitor: VisitorFacts = {
  now: 0,
  device: 'phone',
  country: 'IE',
  language: 'en-IE',
  visits: 2,
  variants: { 7: 1 },

  landing: 'https://kc.test/passes?utm_source=spring&utm_medium=email',
  referrer: 'mail.example',
}

test.each<[string, string, boolean]>([
  ['device', 'phone', true],
  ['device', 'desktop', false],
  ['country', 'IE', true],
  ['city', 'unknown', true],
  ['country', 'unknown', false],
  ['language', 'en', true],
  ['language', 'de', false],
  ['source', 'spring', true],
  ['source', 'mail.example', true],
  ['source', 'direct', false],
  ['medium', 'email', true],
  ['visitor', 'returning', true],
  ['landing', '/passes', true],
  ['variant', '7.1', true],
  ['variant', '7.0', false],
])('a segment of %s %s lets in the same visitor: %s', (name, value, expected) => {
  expect(holds(audienceOfSegment([{ name, value }])!, visitor)).toBe(expected)
})

test('all parts have to hold, and what visitors do later is no condition', () => {
  const phone = { name: 'device', value: 'phone' }
  expect(holds(audienceOfSegment([phone, { name: 'country', value: 'GB' }])!, visitor)).toBe(false)
  expect(audienceOfSegment([phone, { name: 'converted', value: 'metric' }])).toBeNull()
  expect(audienceOfSegment([])).toBeNull()
  const direct = audienceOfSegment([{ name: 'source', value: 'direct' }])!
  expect(holds(direct, { now: 0, landing: 'https://kc.test/', referrer: '' })).toBe(true)
})
