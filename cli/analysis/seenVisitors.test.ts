import { expect, test } from 'vitest'
import { SeenVisitors } from './seenVisitors'

test('each of many visitors is new once, and found ever after', () => {
  const seen = new SeenVisitors()
  const ids = Array.from({ length: 200_000 }, (_, index) =>
    index % 2 === 0 ? `v${index}` : `Bücher-${index}-長い識別子`,
  )
  expect(ids.filter((id) => seen.addOrFind(id))).toEqual([])
  expect(ids.every((id) => seen.addOrFind(id))).toBe(true)
  expect(seen.addOrFind('v0 ')).toBe(false)
})
