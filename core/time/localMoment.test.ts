import fc from 'fast-check'
import { expect, test } from 'vitest'
import { localMoment, localTime } from './localMoment'

test.each<[string, string, number, string | null]>([
  ['2026-11-30T08:00', 'Europe/Dublin', Date.UTC(2026, 10, 30, 8), null],
  ['2026-07-06T08:00', 'Europe/Dublin', Date.UTC(2026, 6, 6, 7), null],
  ['2026-03-29T01:30', 'Europe/Dublin', Date.UTC(2026, 2, 29, 1), 'skipped'],
  ['2026-10-25T01:30', 'Europe/Dublin', Date.UTC(2026, 9, 25, 0, 30), 'twice'],
  ['2026-10-25T02:00', 'Europe/Dublin', Date.UTC(2026, 9, 25, 2), null],
  ['2026-03-08T02:10', 'America/New_York', Date.UTC(2026, 2, 8, 7), 'skipped'],
  ['2026-06-01T09:07', 'Asia/Kathmandu', Date.UTC(2026, 5, 1, 3, 22), null],
  ['2026-10-04T02:15', 'Australia/Lord_Howe', Date.UTC(2026, 9, 3, 15, 30), 'skipped'],
])('%s in %s', (local, timeZone, at, oddity) => {
  expect(localMoment(local, timeZone)).toEqual({ at, oddity })
})

test.each(['2026-02-30T08:00', '2026-11-30', '2026-11-30T24:00', 'soon'])('%s is no date and time', (local) => {
  expect(() => localMoment(local, 'Europe/Dublin')).toThrow(RangeError)
})

test('whatever a clock shows is found again, at that moment or the first time that it shows it', () => {
  const zones = fc.constantFrom('Europe/Dublin', 'America/St_Johns', 'Asia/Kathmandu', 'Australia/Lord_Howe')
  const minute = fc.integer({ min: 0, max: 2 * 366 * 24 * 60 }).map((count) => Date.UTC(2026, 0, 1) + count * 60_000)
  fc.assert(
    fc.property(minute, zones, (at, timeZone) => {
      const found = localMoment(localTime(at, timeZone), timeZone)
      expect(localTime(found.at, timeZone)).toBe(localTime(at, timeZone))
      expect(found.at <= at && found.oddity !== 'skipped').toBe(true)
      if (found.oddity === null) expect(found.at).toBe(at)
    }),
    { numRuns: 60 },
  )
})
