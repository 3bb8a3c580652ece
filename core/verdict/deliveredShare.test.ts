import { expect, test } from 'vitest'
import { deliveredShare } from './deliveredShare'

const lift = (estimate: number | null, low = 0, high = 0) => ({
  estimate,
  interval: [low, high] as [number, number],
})

test.each([
  ['a part of it', lift(0.04), lift(0.1, 0.05, 0.15), 0.4],
  ['all and more', lift(0.2), lift(0.1, 0.05, 0.15), 1],
  ['the contrary', lift(-0.02), lift(0.1, 0.05, 0.15), 0],
  ['of a metric that is to fall', lift(-0.03), lift(-0.06, -0.1, -0.02), 0.5],
  ['nothing to speak of was promised', lift(0.04), lift(0.1, -0.05, 0.25), null],
  ['nothing is known', lift(null), lift(0.1, 0.05, 0.15), null],
])('what a holdout shows of a promise: %s', (_, joint, promised, share) => {
  expect(deliveredShare(joint, promised)).toEqual(share === null ? null : expect.closeTo(share, 12))
})
