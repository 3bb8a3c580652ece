import fc from 'fast-check'
import { expect, test } from 'vitest'
import { holds, type Condition, type Group } from '../targeting/condition'
import { chooseForQuarter } from './quarter'
import { visitorParts } from './visitorParts'

const is = (fact: 'device' | 'system' | 'browser' | 'country', ...texts: string[]): Condition => {
  return { fact, is: 'oneOf', texts }
}
const only = (...of: Condition[]): Group => ({ join: 'all', of })
const PHONES = only(is('device', 'phone'))
const DESKTOPS = only(is('device', 'Desktop'))

test('phones and desktops have nobody in common; everybody has somebody of both, and of the rest', () => {
  expect(visitorParts([PHONES, DESKTOPS, null])).toEqual([[1], [0], [0, 1, 2]])
  expect(visitorParts([{ join: 'none', of: [is('device', 'phone')] }, PHONES])).toEqual([[1], [0]])
  // Somebody may travel, and come back.
  expect(visitorParts([only(is('country', 'IE')), only(is('country', 'FR'))])).toEqual([[0], [0]])
  expect(visitorParts([only(is('device', 'phone'), is('country', 'IE')), DESKTOPS])).toEqual([[1], [0]])
})

test('where audiences are split too finely, everybody is one part', () => {
  const many = [...Array(60).keys()].map((index) => only(is('browser', `browser ${index}`)))
  expect(visitorParts(many).every((parts) => parts.join() === '0')).toBe(true)
})

test('tests of different parts of a page’s visitors run at the same time, those of the same part do not', () => {
  const audiences = [PHONES, DESKTOPS, PHONES]
  const parts = visitorParts(audiences)
  const ideas = audiences.map((_, index) => ({
    id: index + 1,
    weeks: 8,
    worth: 10 - index,
    effortDays: 1,
    pages: parts[index]!.map((part) => `/book ${part}`),
  }))
  const { planned } = chooseForQuarter(ideas, { weeks: 13, effortDays: null, taken: [] })
  expect(planned).toEqual([
    { id: 1, start: 0 },
    { id: 2, start: 0 },
  ])
})

const VALUES = { device: ['phone', 'tablet', 'desktop'], system: ['iOS', 'Windows'], browser: ['Chrome'] }
const aTest = fc
  .constantFrom('device' as const, 'system' as const, 'browser' as const, 'country' as const)
  .chain((fact) =>
    fc
      .subarray(fact === 'country' ? ['IE', 'FR'] : [...VALUES[fact]], { minLength: 1 })
      .map((texts) => is(fact, ...texts)),
  )
const aGroup = fc.letrec<{ group: Group; condition: Condition }>((tie) => ({
  condition: fc.oneof({ maxDepth: 2, withCrossShrink: true }, aTest, tie('group')),
  group: fc.record({
    join: fc.constantFrom('all' as const, 'any' as const, 'none' as const),
    of: fc.array(tie('condition'), { maxLength: 3 }),
  }),
})).group
const aVisitor = fc.record({
  now: fc.constant(0),
  device: fc.constantFrom(...VALUES.device, 'other'),
  system: fc.constantFrom(...VALUES.system, 'Linux'),
  browser: fc.constantFrom(...VALUES.browser, 'Firefox'),
  country: fc.constantFrom('IE', 'FR', 'DE'),
})

test('audiences without a part in common let in no visitor together', () => {
  fc.assert(
    fc.property(aGroup, aGroup, fc.array(aVisitor, { minLength: 1, maxLength: 30 }), (one, other, visitors) => {
      const [mine, theirs] = visitorParts([one, other])
      fc.pre(!mine!.some((part) => theirs!.includes(part)))
      expect(visitors.filter((visitor) => holds(one, visitor) && holds(other, visitor))).toEqual([])
    }),
    { numRuns: 300, seed: 5 },
  )
})
