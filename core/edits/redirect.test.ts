import { expect, test } from 'vitest'
import { redirectTarget } from './redirect'

const at = (rest: string) => `https://kc.example${rest}`

test.each<[string, string, string | null]>([
  ['/by-day', '/timetable', at('/by-day')],
  ['/by-day?view=week', '/timetable?utm_source=mail#top', at('/by-day?view=week&utm_source=mail#top')],
  ['/by-day?view=week', '/timetable?view=month&a=1&a=2', at('/by-day?view=week&a=1&a=2')],
  ['/by-day#noon', '/timetable#top', at('/by-day#noon')],
  ['https://other.example/x', '/timetable?q=1', 'https://other.example/x?q=1'],
  // What would come back to where it comes from leads nowhere.
  ['/timetable', '/timetable?utm_source=mail', null],
  ['/timetable?view=week', '/timetable?view=week&x=1', null],
  ['/timetable?view=week', '/timetable', at('/timetable?view=week')],
])('%s from %s leads to %s', (target, from, to) => expect(redirectTarget(target, at(from))).toBe(to))
