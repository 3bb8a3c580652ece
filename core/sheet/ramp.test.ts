import { expect, test } from 'vitest'
import { rampMove, rampProblem } from './ramp'
import { DAY } from '../time/units'

const STEPS = [
  { share: 500, days: 2 },
  { share: 2000, days: 3 },
]

test('each step lasts its days, and the share that was set comes last', () => {
  const at = (step: number, since: number, now: number, current: number) =>
    rampMove(STEPS, 10_000, current, { step, since }, [], now)
  expect(at(0, 0, 2 * DAY - 1, 500)).toEqual({ do: 'wait', until: 2 * DAY })
  expect(at(0, 0, 2 * DAY, 500)).toEqual({ do: 'raise', share: 2000, next: { step: 1, since: 2 * DAY } })
  expect(at(1, 2 * DAY, 5 * DAY - 1, 2000)).toEqual({ do: 'wait', until: 5 * DAY })
  expect(at(1, 2 * DAY, 9 * DAY, 2000)).toEqual({ do: 'raise', share: 10_000, next: null })
})

test('what speaks against it holds the next step, not the one that lasts', () => {
  const at = (now: number) => rampMove(STEPS, 10_000, 500, { step: 0, since: 0 }, ['Errors rose.'], now)
  expect(at(DAY)).toEqual({ do: 'wait', until: 2 * DAY })
  expect(at(2 * DAY)).toEqual({ do: 'hold', reason: 'Errors rose.' })
})

test('a share that was raised by hand is never lowered again', () => {
  const by = (current: number) => rampMove(STEPS, 10_000, current, { step: 0, since: 0 }, [], 2 * DAY)
  expect(by(3000)).toEqual({ do: 'raise', share: 10_000, next: null })
  expect(rampMove(STEPS, 2500, 3000, { step: 1, since: 0 }, [], 9 * DAY)).toMatchObject({ share: 3000, next: null })
})

test('steps that go down, take nobody or last no day are told', () => {
  expect(rampProblem(STEPS, 10_000)).toBeNull()
  expect(rampProblem([], 0)).toBeNull()
  expect(rampProblem(STEPS, 2000)).toContain('20 % before 20 %')
  expect(rampProblem([...STEPS].reverse(), 10_000)).toContain('20 % before 5 %')
  expect(rampProblem([{ share: 0, days: 2 }], 10_000)).toContain('takes nobody')
  expect(rampProblem([{ share: 500, days: 0 }], 10_000)).toContain('lasts no day')
})
