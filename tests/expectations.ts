import { expect } from 'vitest'

/** Agreement to 1e-6 relative, with nothing below 1e-15 told from zero. */
export function expectClose(actual: number | null | undefined, expected: number | null, tolerance = 1e-6): void {
  if (expected === null) return expect(actual ?? null).toBeNull()
  expect(actual, `${actual} against ${expected}`).toSatisfy(
    (value: number) => Math.abs(value - expected) <= tolerance * Math.abs(expected) + 1e-15,
  )
}

export function expectInterval(
  actual: readonly number[] | null | undefined,
  expected: readonly number[] | null,
  tolerance = 1e-6,
): void {
  if (expected === null) return expect(actual ?? null).toBeNull()
  expected.forEach((end, index) => expectClose(actual?.[index], end, tolerance))
}
