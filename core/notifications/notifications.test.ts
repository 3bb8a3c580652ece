import { describe, expect, test } from 'vitest'
import { letterTime } from './letterTime'
import { OCCURRENCE_KINDS, quieterWay, WAYS, wayOf, type Concern } from './occurrence'
import { trackText } from './trackText'

describe('how somebody is told', () => {
  const concern: Concern = { kind: 'alarm', experimentId: 7, isOwn: false, isOwner: false }
  test('by default of what they started by a letter, of the rest in the list', () => {
    expect(wayOf({ ...concern, isOwn: true }, [])).toBe('now')
    expect(wayOf({ ...concern, isOwner: true }, [])).toBe('list')
    expect(wayOf({ ...concern, experimentId: null, isOwner: true }, [])).toBe('now')
    expect(wayOf({ ...concern, experimentId: null }, [])).toBe('list')
  })
  test('the choice for an experiment goes before that for all, and that before the default', () => {
    const all = { experimentId: null, kind: 'alarm', way: 'none' } as const
    const one = { experimentId: 7, kind: 'alarm', way: 'morning' } as const
    expect(wayOf({ ...concern, isOwn: true }, [all])).toBe('none')
    expect(wayOf(concern, [all, one])).toBe('morning')
    expect(wayOf({ ...concern, experimentId: 8 }, [all, one])).toBe('none')
    expect(wayOf({ ...concern, kind: 'ended' }, [all, one])).toBe('list')
  })
  test('less of it never comes to more', () => {
    const loudness = (way: (typeof WAYS)[number]) => WAYS.indexOf(way)
    for (const way of WAYS) expect(loudness(quieterWay(way))).toBeGreaterThanOrEqual(loudness(way))
    for (const kind of OCCURRENCE_KINDS) expect(wayOf({ ...concern, kind, isOwn: true }, [])).not.toBe('none')
  })
})

describe('when a letter comes', () => {
  const times = { timeZone: 'Europe/Dublin', quietFrom: 20 * 60, quietUntil: 7 * 60, morningAt: 8 * 60 }
  const clock = (at: number | null) => new Date(at!).toISOString()
  test('at once is a minute later, and after the quiet hours', () => {
    expect(clock(letterTime('now', Date.UTC(2026, 0, 5, 12), times))).toBe('2026-01-05T12:01:00.000Z')
    expect(clock(letterTime('now', Date.UTC(2026, 0, 5, 19, 59, 30), times))).toBe('2026-01-06T07:00:00.000Z')
    expect(clock(letterTime('now', Date.UTC(2026, 0, 6, 3), times))).toBe('2026-01-06T07:00:00.000Z')
    // In summer the clocks are an hour ahead.
    expect(clock(letterTime('now', Date.UTC(2026, 6, 5, 19, 30), times))).toBe('2026-07-06T06:00:00.000Z')
    expect(clock(letterTime('now', Date.UTC(2026, 0, 5, 13), { ...times, quietFrom: 720, quietUntil: 840 }))).toBe(
      '2026-01-05T14:00:00.000Z',
    )
    expect(clock(letterTime('now', Date.UTC(2026, 0, 5, 23), { ...times, quietFrom: 0, quietUntil: 0 }))).toBe(
      '2026-01-05T23:01:00.000Z',
    )
  })
  test('the morning letter is that of the next morning, also on the night in which clocks change', () => {
    expect(clock(letterTime('morning', Date.UTC(2026, 0, 5, 7, 59), times))).toBe('2026-01-05T08:00:00.000Z')
    expect(clock(letterTime('morning', Date.UTC(2026, 0, 5, 8), times))).toBe('2026-01-06T08:00:00.000Z')
    expect(clock(letterTime('morning', Date.UTC(2026, 2, 28, 23), times))).toBe('2026-03-29T07:00:00.000Z')
    expect(letterTime('list', 0, times)).toBeNull()
    expect(letterTime('none', 0, times)).toBeNull()
  })
})

test('tracks are drawn on one scale, with what they are cut off at', () => {
  const text = trackText(
    [
      { name: 'B', estimate: 0.1, interval: [0.02, 0.18] },
      { name: 'C', estimate: -0.5, interval: [-2, 0.01] },
      { name: 'D', estimate: null, interval: null },
    ],
    0.05,
  )
  const [scale, b, barOfB, c, barOfC, ...more] = text.split('\n')
  expect(more).toEqual([])
  expect([scale![20], scale!.length]).toEqual(['0', 41])
  expect(scale!.startsWith('−100 %')).toBe(true)
  expect([b, c]).toEqual(['B: +10.0 %, +2.0 % to +18.0 %', 'C: −50.0 %, −200.0 % to +1.0 %'])
  // Zero is in the middle, 10 % two signs to the right of it.
  expect([barOfB!.indexOf('○'), barOfB!.indexOf('┥'), barOfB!.indexOf('┝')]).toEqual([22, 24, 20])
  expect([barOfC!.indexOf('◁'), barOfC!.indexOf('○')]).toEqual([0, 10])
  expect(trackText([{ name: 'D', estimate: null, interval: null }], 0.05)).toBe('')
})
