import { expect, test } from 'vitest'
import { MOST_VARIANTS } from '../../shared/experiments/sheetParts'
import { VARIANT_SHAPES, variantShape, variantToken } from './variantShapes'

test('no two variants of an experiment have the same mark', () => {
  const marks = [...Array(MOST_VARIANTS).keys()].map(variantShape)
  expect(new Set(marks).size).toBe(MOST_VARIANTS)
  expect(VARIANT_SHAPES).toHaveLength(MOST_VARIANTS)
  expect(variantToken(0)).toBe('--slate')
  expect(new Set([1, 2, 3, 4, 5].map(variantToken)).size).toBe(5)
})
