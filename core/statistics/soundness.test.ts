import { describe, expect, test } from 'vitest'
import { checkAllocation } from './allocation'
import { findUnsoundness, type DataIntake } from './soundness'

describe('reasons to distrust the data', () => {
  const sound: DataIntake = {
    allocation: checkAllocation([500, 510], [1, 1]),
    visitors: 1010,
    crossed: 3,
    days: [
      { day: '2026-10-01', visitors: 505 },
      { day: '2026-10-02', visitors: 505 },
    ],
    arms: [
      { name: 'Control', visitors: 500, active: 40 },
      { name: 'B', visitors: 510, active: 38 },
    ],
  }
  test.each<[string, Partial<DataIntake>, string | null, boolean]>([
    ['none', {}, null, false],
    ['a broken split', { allocation: checkAllocation([5000, 4000], [1, 1]) }, 'allocation', true],
    ['visitors in two arms', { crossed: 20 }, 'crossed', true],
    [
      'an arm without events',
      {
        arms: [
          { name: 'Control', visitors: 500, active: 40 },
          { name: 'B', visitors: 510, active: 0 },
        ],
      },
      'missing-events',
      true,
    ],
    [
      'a small arm that may be silent by chance',
      {
        arms: [
          { name: 'Control', visitors: 500, active: 40 },
          { name: 'B', visitors: 60, active: 0 },
        ],
      },
      null,
      false,
    ],
    ['visitors who are left out', { leftOut: { robot: 3, excluded: 1 } }, 'left-out', false],
    ['amounts without a rate', { unconverted: { GBP: 2 } }, 'unconverted', false],
    ['events that could not be counted', { setAside: 1 }, 'set-aside', false],
    ['events that were refused', { refused: 12 }, 'refused', false],
    ['numbers that are half computed again', { computing: 0.5 }, 'computing', true],
    ['a day without visitors', { days: [{ day: '2026-10-01', visitors: 0 }] }, 'silent-days', false],
  ])('%s', (_, change, kind, isBreaking) => {
    const findings = findUnsoundness({ ...sound, ...change })
    expect(findings.map((finding) => finding.kind)).toEqual(kind === null ? [] : [kind])
    expect(findings.some((finding) => finding.isBreaking)).toBe(isBreaking)
  })
})
