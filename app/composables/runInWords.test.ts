import { expect, test } from 'vitest'
import { dayOfRun, plannedEnd, runInWords } from './runInWords'

const run = { startedAt: '2026-03-20T12:00:00Z', endedAt: null, longestWeeks: 6 }

test('a run is on its first day until a day is over by the clock on the wall, also where clocks change', () => {
  const day = (at: string) => dayOfRun(run, 'Europe/Dublin', Date.parse(at))
  expect(day('2026-03-20T12:00:01Z')).toBe(1)
  expect(day('2026-03-21T11:59:00Z')).toBe(1)
  expect(day('2026-03-21T12:00:00Z')).toBe(2)
  // An hour was skipped on March 29.
  expect(day('2026-03-29T11:00:00Z')).toBe(10)
})

test('a run says its day and its end, and from when to when it was once it is over', () => {
  const now = Date.parse('2026-04-01T12:30:00Z')
  expect(runInWords(run, 'Europe/Dublin', now)).toBe('day 13 of 42, to May 1')
  expect(new Date(plannedEnd(run)).toISOString()).toBe('2026-05-01T12:00:00.000Z')
  expect(runInWords({ ...run, endedAt: '2026-04-10T09:00:00Z' }, 'Europe/Dublin', now)).toBe('Mar 20 – Apr 10')
})
