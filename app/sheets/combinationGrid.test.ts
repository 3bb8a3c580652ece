import { expect, test } from 'vitest'
import { allCombinations } from '../../core/factors/combinations'
import type { SheetFactor } from '../../core/sheet/content'
import { gridRows } from './combinationGrid'

const factor = (name: string, ...levels: string[]): SheetFactor => ({
  id: name,
  name,
  levels: levels.map((level) => ({ id: `${name}-${level}`, name: level, edits: [] })),
})

test('the last factor heads the columns, and each level before it as many rows as it has combinations', () => {
  const factors = [factor('A', 'a1', 'a2'), factor('B', 'b1', 'b2', 'b3'), factor('C', 'c1', 'c2')]
  const rows = gridRows(factors, allCombinations(factors, []))
  expect(rows.map(({ headings }) => headings.map(({ name, rows: spanned }) => `${name}:${spanned}`).join(' '))).toEqual(
    ['a1:3 b1:1', 'b2:1', 'b3:1', 'a2:3 b1:1', 'b2:1', 'b3:1'],
  )
  expect(rows[4]!.cells.map(({ name }) => name)).toEqual(['a2 × b2 × c1', 'a2 × b2 × c2'])
})
