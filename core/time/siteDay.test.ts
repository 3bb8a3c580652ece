import { describe, expect, test } from 'vitest'
import { dayAfter, daysFrom, siteDays, wholeDays } from './siteDay'

describe('a moment’s day', () => {
  test.each([
    ['Europe/Dublin', '2026-03-29T00:59:59Z', '2026-03-29'],
    ['Europe/Dublin', '2026-06-01T23:30:00Z', '2026-06-02'],
    ['America/New_York', '2026-11-01T03:59:59Z', '2026-10-31'],
    ['America/New_York', '2026-11-01T04:00:00Z', '2026-11-01'],
    ['Asia/Kathmandu', '2026-01-01T18:14:59Z', '2026-01-01'],
    ['Asia/Kathmandu', '2026-01-01T18:15:00Z', '2026-01-02'],
    ['Pacific/Kiritimati', '2026-01-01T10:00:00Z', '2026-01-02'],
  ])('in %s at %s is %s', (zone, at, day) => expect(siteDays(zone)(Date.parse(at))).toBe(day))

  test('of an unknown time zone is an error, not another day', () => {
    expect(() => siteDays('Mars/Olympus')).toThrow(RangeError)
  })
})

test('days follow each other, also where an hour is skipped or repeated', () => {
  expect(daysFrom('2026-03-28', '2026-03-31')).toEqual(['2026-03-28', '2026-03-29', '2026-03-30', '2026-03-31'])
  expect(daysFrom('2026-10-24', '2026-10-26')).toEqual(['2026-10-24', '2026-10-25', '2026-10-26'])
  expect(daysFrom('2026-01-02', '2026-01-01')).toEqual([])
  expect([dayAfter('2028-02-28'), dayAfter('2026-12-31'), dayAfter('2026-03-01', -1)]).toEqual([
    '2028-02-29',
    '2027-01-01',
    '2026-02-28',
  ])
})

test.each([
  ['2026-03-28T12:00:00Z', '2026-03-29T10:59:59Z', 0],
  ['2026-03-28T12:00:00Z', '2026-03-29T11:00:00Z', 1],
  ['2026-10-24T11:00:00Z', '2026-10-25T11:59:59Z', 0],
  ['2026-10-24T11:00:00Z', '2026-10-25T12:00:00Z', 1],
  ['2026-01-01T12:00:00Z', '2026-01-15T12:00:00Z', 14],
  ['2026-01-02T12:00:00Z', '2026-01-01T12:00:00Z', 0],
])('whole days from %s to %s in Dublin: %d', (start, end, days) => {
  expect(wholeDays(Date.parse(start), Date.parse(end), 'Europe/Dublin')).toBe(days)
})
