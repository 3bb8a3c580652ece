import { expect, test } from 'vitest'
import { crowdText, isCrowd, type Crowd } from './crowd'

const crowd: Crowd = {
  day: '2026-11-28',
  network: 'hash',
  arms: [
    { visitors: 150, sum: 150 },
    { visitors: 150, sum: 0 },
  ],
  ofDay: 420,
}
const arms = [
  { name: 'Control', visitors: 1150, sum: 250 },
  { name: 'Warm', visitors: 1150, sum: 120 },
]

test.each([
  [[20, 20], 100, true],
  [[15, 14], 40, false],
  [[100, 100], 1001, false],
  [[101, 100], 1001, true],
])('%j of %i is a crowd: %s', (visitors, ofDay, expected) => {
  expect(isCrowd({ arms: visitors.map((each) => ({ visitors: each, sum: 0 })), ofDay })).toBe(expected)
})

test('says what is lifted with them and without', () => {
  expect(crowdText(crowd, { name: 'Orders', arms })).toBe(
    'On 2026-11-28 one network brought 300 of 420 visitors. The lift in Orders: Warm −52.0 % with them and +20.0 % without.',
  )
  expect(crowdText(crowd, null)).toBe('On 2026-11-28 one network brought 300 of 420 visitors.')
  const none = arms.map((arm) => ({ ...arm, sum: 0 }))
  expect(crowdText(crowd, { name: 'Orders', arms: none })).toContain('is not known')
})
