import { expect, it } from 'vitest'
import { DAY } from '../../../core/time/units'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { ExperimentResults } from '../../../shared/experiments/resultsReplies'
import { moneyOfLift } from './moneyOfLift'

const START = Date.UTC(2026, 10, 1)
const sheet = { share: 5000, startedAt: new Date(START).toISOString(), endedAt: null } as ExperimentSheet
const now = new Date(START + 10.5 * DAY)
const measured = (id: string, role: string, kind: string, hasAmount: boolean, sum: number) => ({
  metric: {
    id,
    role,
    kind,
    direction: 'up',
    source: hasAmount ? { type: 'pageAmount' } : { type: 'event' },
    denominator: null,
  },
  arms: [{ sum }],
})
const results = (...metrics: object[]) => ({ visitors: 1050, metrics }) as unknown as ExperimentResults
const bookings = measured('booked', 'primary', 'conversion', false, 40)
const amounts = measured('amount', 'secondary', 'mean', true, 2400)

it('a unit brings what the metric counts, else what the team says, else what the control’s orders brought', () => {
  const read = (unitValues: Record<string, number>, ...metrics: object[]) => {
    const money = moneyOfLift(sheet, results(...metrics), unitValues, now)
    return money && [money.from, money.unitValue]
  }
  expect(read({ amount: 5 }, measured('amount', 'primary', 'mean', true, 2400))).toEqual(['metric', 1])
  expect(read({ booked: 54 }, bookings, amounts)).toEqual(['team', 54])
  expect(read({}, bookings, amounts)).toEqual(['orders', 60])
  expect(read({}, bookings)).toBeNull()
  expect(read({ booked: 54 }, measured('booked', 'primary', 'ratio', false, 40))).toBeNull()
})

it('a month’s visitors are those of all days so far, the begun one included, and of the whole traffic', () => {
  const money = moneyOfLift(sheet, results(bookings), { booked: 54 }, now)
  // 1,050 in 10.5 days are 100 a day, of half of the traffic.
  expect(money!.visitorsAMonth).toBeCloseTo(200 * 30.4375)
  expect(moneyOfLift(sheet, results(bookings), { booked: 54 }, new Date(START + 6 * DAY))).toBeNull()
})
