import fc from 'fast-check'
import { expect, test } from 'vitest'
import { firstIdAt, isTimeOrderedId, timeOfId, timeOrderedId } from './timeOrderedId'

const LATEST = 2 ** 48 - 1
const anId = fc.tuple(
  fc.integer({ min: 0, max: LATEST }),
  fc.integer({ min: 0, max: 4095 }),
  fc.uint8Array({ minLength: 8, maxLength: 8 }),
)

test('an id carries its time, and is a UUID of version 7', () => {
  fc.assert(
    fc.property(anId, ([at, counter, random]) => {
      const id = timeOrderedId(at, counter, random)
      expect(isTimeOrderedId(id)).toBe(true)
      expect(timeOfId(id)).toBe(at)
      expect(firstIdAt(at) < id).toBe(true)
      if (at < LATEST) expect(id < firstIdAt(at + 1)).toBe(true)
    }),
    { examples: [[[LATEST - 1, 0, new Uint8Array(8)]]] },
  )
})

test('ids sort by time, then by counter', () => {
  fc.assert(
    fc.property(anId, anId, ([at, counter, random], [otherAt, otherCounter, otherRandom]) => {
      const order = Math.sign(at - otherAt) || Math.sign(counter - otherCounter)
      const [id, other] = [timeOrderedId(at, counter, random), timeOrderedId(otherAt, otherCounter, otherRandom)]
      if (order !== 0) expect(id < other ? -1 : 1).toBe(order)
    }),
  )
})

test.each([
  '',
  'no-uuid',
  '019a0000-0000-4001-8000-000000000000',
  '019a0000-0000-7001-c000-000000000000',
  '019A0000-0000-7001-8000-00000000000F',
])('“%s” is none', (text) => {
  expect(isTimeOrderedId(text)).toBe(false)
})
