import { expect, test } from 'vitest'
import { crowdText, isCrowd, type Crowd } from './crowd'

const crowd: Crowd = {
  day: '2026-11-28',
  kind: 'network',
  value: 'hash',
  arms: [
    { visitors: 150, sum: 150 },
    { visitors: 150, sum: 0 },
  ],
  ofDay: 420,
  usual: 0,
}
const arms = [
  { name: 'Control', visitors: 1150, sum: 250 },
  { name: 'Warm', visitors: 1150, sum: 120 },
]

test.each([
  [[20, 20], 100, 0, true],
  [[15, 14], 40, 0, false],
  [[100, 100], 1001, 0, false],
  [[101, 100], 1001, 0, true],
  // What is usual is no crowd, however large: odds of 1 where they are 1 : 4, and of 4 where they are 1.
  [[50, 50], 201, 0.2, false],
  [[51, 50], 201, 0.2, true],
  [[79, 80], 200, 0.5, false],
  [[80, 80], 200, 0.5, true],
  [[100, 100], 200, 1, false],
])('%j of %i, usually %f, is a crowd: %s', (visitors, ofDay, usual, expected) => {
  expect(isCrowd({ arms: visitors.map((each) => ({ visitors: each, sum: 0 })), ofDay, usual })).toBe(expected)
})

test('says what is lifted with them and without', () => {
  expect(crowdText(crowd, { name: 'Orders', arms })).toBe(
    'On 2026-11-28 one network brought 300 of 420 visitors. The lift in Orders: Warm −52.0 % with them and +20.0 % without.',
  )
  expect(crowdText(crowd, null)).toBe('On 2026-11-28 one network brought 300 of 420 visitors.')
  const none = arms.map((arm) => ({ ...arm, sum: 0 }))
  expect(crowdText(crowd, { name: 'Orders', arms: none })).toContain('is not known')
})

test.each([
  ['minute', '14:05', 'On 2026-11-28 300 of 420 visitors came within one minute, at 14:05.'],
  ['browser', 'Chrome 99', 'On 2026-11-28 300 of 420 visitors came with Chrome 99. Usually it is 1.5 %.'],
  [
    'first view',
    '',
    'On 2026-11-28 300 of 420 visitors saw the experiment on the first page they ever opened. Usually it is 1.5 %.',
  ],
] as const)('says what visitors who came by %s have in common', (kind, value, text) => {
  expect(crowdText({ ...crowd, kind, value, usual: 0.015 }, null)).toBe(text)
})
