import { expect, test } from 'vitest'
import { isConclusion, standingVerdict, type ReachedVerdict } from './reachedVerdict'
import type { Verdict, VerdictKind } from './verdict'

const said = (kind: VerdictKind, variant: string | null = null): Verdict => ({
  kind,
  variant,
  title: kind,
  reasons: [],
})
const reached = (verdict: Verdict): ReachedVerdict => ({
  verdict,
  at: '2026-11-01T00:00:00.000Z',
  daysRun: 28,
  visitors: 20_000,
  rule: 'fixed',
  variants: [],
})

test.each<[VerdictKind, boolean]>([
  ['distrust', false],
  ['early', false],
  ['go-on', false],
  ['harm', true],
  ['ship', true],
  ['ship-low-risk', true],
  ['no-difference', true],
  ['open', true],
])('%s is a conclusion: %s', (kind, expected) => expect(isConclusion(said(kind))).toBe(expected))

test('what was reached first stands, and what is said since stands beside it', () => {
  const first = reached(said('open'))
  expect(standingVerdict(said('go-on'), null)).toEqual({ verdict: said('go-on'), reached: null, since: null })
  expect(standingVerdict(said('ship', 'B'), first)).toEqual({
    verdict: said('open'),
    reached: first,
    since: said('ship', 'B'),
  })
  expect(standingVerdict(said('open'), first).since).toBeNull()
  const shipped = reached(said('ship', 'B'))
  expect(standingVerdict(said('ship', 'C'), shipped).since).toEqual(said('ship', 'C'))
})

test('data that are not to be trusted stand before everything that was reached', () => {
  const first = reached(said('ship', 'B'))
  expect(standingVerdict(said('distrust'), first)).toEqual({ verdict: said('distrust'), reached: first, since: null })
})
