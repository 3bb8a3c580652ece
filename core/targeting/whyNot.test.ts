import { expect, test } from 'vitest'
import { variantOf } from '../assignment/assignment'
import { firstBuckets, takeBuckets } from '../assignment/bucketSpace'
import { isActive } from './activation'
import { isHeldOut, variantByBuckets, whyNot, type Circumstances, type Terms } from './whyNot'

const IDS = [...Array(2000).keys()].map((index) => `visitor-${index}`)
const TERMS: Terms = {
  id: 1,
  pages: [{ match: 'exact', value: '/' }],
  audience: null,
  group: null,
  salt: 'one',
  share: 10_000,
}
const HERE: Circumstances = {
  address: 'https://kc.test/',
  fulfils: () => true,
  isActive: () => true,
  variants: {},
}
const taking = (terms: Terms, at = HERE) => IDS.filter((id) => whyNot(terms, id, at) === null)

test('the first reason is told, in the order in which it is asked', () => {
  const [id] = IDS as [string]
  const all: Terms = {
    ...TERMS,
    audience: { join: 'all', of: [] },
    holdouts: [{ salt: 'h', share: 10_000 }],
    group: { members: [1, 2] },
    share: 0,
    activation: { on: 'call', name: 'offer' },
  }
  const nowhere = { ...HERE, address: 'https://kc.test/book', fulfils: () => false, isActive: () => false }
  const taken = { ...nowhere, variants: { 2: 0 } }
  const reasons = [
    whyNot(all, id, taken),
    whyNot(all, id, { ...taken, address: HERE.address }),
    whyNot(all, id, { ...taken, address: HERE.address, fulfils: () => true }),
    whyNot({ ...all, holdouts: [] }, id, { ...taken, address: HERE.address, fulfils: () => true }),
    whyNot({ ...all, holdouts: [] }, id, { ...HERE, isActive: () => false }),
    whyNot({ ...all, holdouts: [], share: 10_000 }, id, { ...HERE, isActive: () => false }),
    whyNot({ ...all, holdouts: [], share: 10_000 }, id, HERE),
  ]
  expect(reasons).toEqual(['page', 'audience', 'holdout', 'group', 'share', 'waits', null])
})

test('experiments that share buckets share no visitor, and each gets its share within chance', () => {
  const ranges = [takeBuckets([], 1, 3000)!]
  ranges.push(takeBuckets([{ experiment: 1, ranges: ranges[0]! }], 2, 4000)!)
  const [one, other] = ranges.map((own, index) =>
    taking({ ...TERMS, id: index + 1, salt: `salt-${index}`, group: { salt: 'group', ranges: own } }),
  ) as [string[], string[]]
  expect(one.filter((id) => other.includes(id))).toEqual([])
  // Four standard deviations of a share of 2,000.
  expect(Math.abs(one.length / 2000 - 0.3)).toBeLessThan(4 * Math.sqrt((0.3 * 0.7) / 2000))
  expect(Math.abs(other.length / 2000 - 0.4)).toBeLessThan(4 * Math.sqrt((0.4 * 0.6) / 2000))
  // The split within is independent of the group's buckets.
  const variants = one.map((id) => variantOf(id, { salt: 'salt-0', share: 0, weights: [1, 1] }))
  expect(Math.abs(variants.filter((each) => each === 1).length / one.length - 0.5)).toBeLessThan(0.1)
})

test('a share that is raised, also in a group, only brings visitors in', () => {
  const ranges = takeBuckets([{ experiment: 2, ranges: [[1000, 4000]] }], 1, 5000)!
  const at = (share: number) => taking({ ...TERMS, group: { salt: 'group', ranges: firstBuckets(ranges, share) } })
  const steps = [500, 2000, 5000].map(at)
  for (const [index, before] of steps.slice(0, -1).entries())
    expect(before.every((id) => steps[index + 1]!.includes(id))).toBe(true)
  const alone = [500, 2000, 10_000].map((share) => taking({ ...TERMS, share }))
  expect(alone[0]!.every((id) => alone[1]!.includes(id))).toBe(true)
  expect(alone[2]).toEqual(IDS)
})

test('who takes turns keeps the visitors that it has, and gets no other’s', () => {
  const first: Terms = { ...TERMS, group: { members: [1, 2] } }
  expect(taking(first)).toEqual(IDS)
  expect(taking(first, { ...HERE, variants: { 2: 1 } })).toEqual([])
  expect(taking(first, { ...HERE, variants: { 1: 0, 3: 1 } })).toEqual(IDS)
})

test('a holdout keeps the same visitors out of everything, and has nothing to do with shares', () => {
  const holdouts = [{ salt: 'autumn', share: 1000 }]
  const held = IDS.filter((id) => isHeldOut(id, holdouts[0]!))
  expect(Math.abs(held.length / 2000 - 0.1)).toBeLessThan(0.03)
  for (const salt of ['one', 'two', 'autumn']) {
    const inside = taking({ ...TERMS, salt, holdouts })
    expect(inside).toEqual(IDS.filter((id) => !held.includes(id)))
    const half = taking({ ...TERMS, salt, share: 5000 })
    expect(Math.abs(half.filter((id) => held.includes(id)).length / held.length - 0.5)).toBeLessThan(0.15)
  }
  expect(variantByBuckets(held[0]!, { ...TERMS, holdouts, weights: [1, 1] })).toBeNull()
})

test('what waits for an event, an element or a call is active once that has come', () => {
  const happened = { events: ['basket'], calls: ['offer'], has: (selector: string) => selector === '#dialog' }
  expect(isActive({ on: 'event', name: 'basket' }, happened)).toBe(true)
  expect(isActive({ on: 'event', name: 'offer' }, happened)).toBe(false)
  expect(isActive({ on: 'call', name: 'offer' }, happened)).toBe(true)
  expect(isActive({ on: 'call', name: 'basket' }, happened)).toBe(false)
  expect(isActive({ on: 'element', selector: '#dialog' }, happened)).toBe(true)
  expect(isActive({ on: 'element', selector: '#other' }, happened)).toBe(false)
})
