import { expect, test } from 'vitest'
import { balancedFraction } from './balancedFraction'

/** Levels of each factor at a position among all combinations, the last factor changing fastest. */
function levelsAt(levelCounts: readonly number[], position: number): number[] {
  return levelCounts.reduceRight<{ left: number; levels: number[] }>(
    ({ left, levels }, count) => ({ left: Math.floor(left / count), levels: [left % count, ...levels] }),
    { left: position, levels: [] },
  ).levels
}

/** How often each combination of levels of some factors occurs. */
function occurrences(
  levelCounts: readonly number[],
  positions: readonly number[],
  factors: readonly number[],
): number[] {
  const counts = new Map<string, number>()
  for (const position of positions) {
    const key = factors.map((factor) => levelsAt(levelCounts, position)[factor]).join()
    counts.set(key, (counts.get(key) ?? 0) + 1)
  }
  const all = factors.reduce((product, factor) => product * levelCounts[factor]!, 1)
  return [...counts.values(), ...Array<number>(all - counts.size).fill(0)]
}

function pairsOf(levelCounts: readonly number[]): [number, number][] {
  return levelCounts.flatMap((_, one) =>
    levelCounts.slice(one + 1).map((__, after): [number, number] => [one, one + 1 + after]),
  )
}

test.each([
  [[2, 2, 2], 7, 4],
  [[2, 2, 2, 2], 10, 8],
  [[2, 2, 2, 2, 2], 10, 8],
  [[3, 3, 3], 10, 9],
  [[3, 3, 3, 3], 10, 9],
  [[4, 2, 2], 10, 8],
])(
  'of factors with %j levels and at most %i combinations, %i in which all pairs of levels meet equally often',
  (counts, most, size) => {
    const { positions, isOrthogonal } = balancedFraction(counts, most)!
    expect(positions).toHaveLength(size)
    expect(positions[0]).toBe(0)
    expect(isOrthogonal).toBe(true)
    for (const pair of pairsOf(counts)) expect(new Set(occurrences(counts, positions, pair)).size).toBe(1)
  },
)

test('half of sixteen combinations holds every triple of levels: no main effect mixes with an interaction', () => {
  const counts = [2, 2, 2, 2]
  const { positions } = balancedFraction(counts, 10)!
  for (const triple of [
    [0, 1, 2],
    [0, 1, 3],
    [0, 2, 3],
    [1, 2, 3],
  ])
    expect(occurrences(counts, positions, triple)).toEqual(Array(8).fill(1))
})

test('where no size is orthogonal, the nearest one is taken, and says so', () => {
  const counts = [3, 3, 2]
  const { positions, isOrthogonal } = balancedFraction(counts, 10)!
  expect(isOrthogonal).toBe(false)
  expect(occurrences(counts, positions, [0, 1])).toEqual(Array(9).fill(1))
  expect(Math.max(...occurrences(counts, positions, [2]))).toBeLessThanOrEqual(5)
})

test('too few combinations for all main effects make none', () => {
  expect(balancedFraction([5, 5, 5], 10)).toBeNull()
  expect(balancedFraction([2, 2, 2], 4)).toEqual({ positions: [0, 3, 5, 6], isOrthogonal: true })
})
