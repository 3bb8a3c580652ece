import { setTimeout as wait } from 'node:timers/promises'
import { describe, expect, test } from 'vitest'
import { isOwnOrigin } from './collect'
import { correctTime } from './correctTime'
import { groupCommit } from './groupCommit'

const NOW = Date.UTC(2026, 3, 1, 12)
const HOUR = 3_600_000

describe('times', () => {
  test('of a right clock are taken as they are', () => {
    expect(correctTime(NOW - 5000, NOW - 300, NOW)).toEqual({
      madeAt: new Date(NOW - 5000),
      occurredAt: new Date(NOW - 5000),
    })
  })
  test('of a clock that is hours off are corrected; the key is not', () => {
    const at = NOW - 3 * HOUR - 5000
    expect(correctTime(at, NOW - 3 * HOUR, NOW)).toEqual({ madeAt: new Date(at), occurredAt: new Date(NOW - 5000) })
  })
  test('never lie in the future', () => {
    expect(correctTime(NOW + 20_000, NOW + 20_000, NOW)?.occurredAt).toEqual(new Date(NOW))
  })
  test('of a clock that is years off share one key time, whenever they are sent', () => {
    expect(correctTime(0, 2000, NOW)?.madeAt).toEqual(correctTime(0, 9000, NOW + 7000)?.madeAt)
  })
  test('older than seven days are refused', () => {
    expect(correctTime(NOW - 8 * 24 * HOUR, NOW, NOW)).toBeNull()
  })
})

test.each([
  ['https://example.test', 'https://example.test', true],
  ['https://shop.example.test', 'https://www.example.test', true],
  ['https://evil-example.test', 'https://example.test', false],
  ['https://example.test:8443', 'https://example.test', false],
  ['https://example.test.evil.test', 'https://example.test', false],
  ['null', 'https://example.test', false],
  [null, 'https://example.test', false],
])('events from %s for %s: %s', (origin, address, expected) => {
  expect(isOwnOrigin(origin, address)).toBe(expected)
})

describe('group commit', () => {
  test('what arrives during a write shares the next one, and nobody waits for less than their own', async () => {
    const writes: number[][] = []
    const write = groupCommit<number>(async (rows) => {
      await wait(5)
      writes.push(rows)
    }, 1)
    await Promise.all(
      Array.from({ length: 50 }, (_, index) => write([index]).then(() => expect(writes.flat()).toContain(index))),
    )
    expect(writes.flat().sort((a, b) => a - b)).toEqual(Array.from({ length: 50 }, (_, index) => index))
    expect(writes.length).toBeLessThan(6)
  })

  test('a bad row fails its own caller and no other', async () => {
    const written: number[] = []
    const write = groupCommit<number>(async (rows) => {
      if (rows.includes(13)) throw new Error('thirteen')
      written.push(...rows)
    }, 1)
    const results = await Promise.allSettled(Array.from({ length: 20 }, (_, index) => write([index])))
    expect(results.map(({ status }) => status).filter((status) => status === 'rejected')).toHaveLength(1)
    expect(results[13]!.status).toBe('rejected')
    expect(written).toHaveLength(19)
  })
})
