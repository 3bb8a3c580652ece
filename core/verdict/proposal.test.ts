import { expect, test } from 'vitest'
import { proposedPosition } from './proposal'
import type { VerdictKind } from './verdict'

test.each<[VerdictKind, string | null, string[], number | null]>([
  ['ship', 'B', ['A', 'B', 'C'], 1],
  ['ship-low-risk', 'C', ['A', 'B', 'C'], 2],
  ['ship', 'Renamed', ['A', 'B'], null],
  ['harm', 'B', ['A', 'B'], 0],
  ['harm', 'B', ['A', 'B', 'C'], null],
  ['no-difference', null, ['A', 'B', 'C'], 0],
  ['open', null, ['A', 'B'], null],
  ['distrust', null, ['A', 'B'], null],
])('the verdict %s of %s among %o proposes %s', (kind, variant, names, position) => {
  expect(proposedPosition({ kind, variant, title: '', reasons: [] }, names)).toBe(position)
})
