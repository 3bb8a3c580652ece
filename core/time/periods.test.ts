import { expect, test } from 'vitest'
import { periodStarts } from './periods'

test('weeks begin on Monday and months on the 1st, the first one where the days begin', () => {
  expect(periodStarts('2026-11-04', '2026-11-16', 'week')).toEqual(['2026-11-04', '2026-11-09', '2026-11-16'])
  expect(periodStarts('2026-11-02', '2026-11-08', 'week')).toEqual(['2026-11-02'])
  expect(periodStarts('2026-12-31', '2027-02-01', 'month')).toEqual(['2026-12-31', '2027-01-01', '2027-02-01'])
  expect(periodStarts('2026-11-04', '2026-11-05', 'day')).toEqual(['2026-11-04', '2026-11-05'])
})
