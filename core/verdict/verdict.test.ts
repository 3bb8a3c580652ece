import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { verdict, type DecisionPlan, type ExperimentState, type VariantState } from './verdict'

const plan: DecisionPlan = { smallestLift: 0.05, alpha: 0.05, rule: 'sequential', lossLimit: 0.005, leastWeeks: 2, longestWeeks: 6, plannedVisitors: 20_000 }
const variant = (low: number, high: number, more: Partial<VariantState> = {}): VariantState => ({ name: 'B', liftInterval: [low, high], lift: (low + high) / 2, adjustedPValue: low > 0 ? 0.01 : 0.5, relativeLoss: 0.01, harmedGuardrails: [], ...more })
const state = (changes: Partial<ExperimentState> = {}): ExperimentState => ({ daysRun: 20, visitors: 15_000, unsound: [], variants: [variant(-0.02, 0.2)], ...changes })

test.each<[string, Partial<DecisionPlan>, Partial<ExperimentState>]>([
  ['distrust', {}, { unsound: ['The split is broken.'], variants: [variant(0.1, 0.2)] }],
  ['harm', {}, { daysRun: 1, variants: [variant(0.1, 0.2, { harmedGuardrails: ['Refunds'] })] }],
  ['early', {}, { daysRun: 13, variants: [variant(0.1, 0.2)] }],
  ['ship', {}, { variants: [variant(0.01, 0.2)] }],
  ['go-on', {}, { variants: [variant(0.01, 0.2, { adjustedPValue: 0.06 }), variant(-0.1, 0.2)] }],
  ['no-difference', {}, { variants: [variant(-0.02, 0.04)] }],
  ['go-on', {}, {}],
  ['open', {}, { daysRun: 42 }],
  ['go-on', { rule: 'fixed' }, { variants: [variant(0.01, 0.2)] }],
  ['ship', { rule: 'fixed' }, { visitors: 20_000, variants: [variant(0.01, 0.2)] }],
  ['ship-low-risk', { rule: 'low-risk' }, { variants: [variant(-0.02, 0.2, { relativeLoss: 0.001 })] }],
  ['go-on', { rule: 'low-risk' }, {}],
])('%s under %o', (kind, planChanges, stateChanges) => {
  expect(verdict({ ...plan, ...planChanges }, state(stateChanges)).kind).toBe(kind)
})

test('“too early” says how much is missing', () => {
  expect(verdict(plan, state({ daysRun: 11, visitors: 6000 })).reasons.join(' ')).toMatch(/3 days to go.*14,000 of 20,000 planned visitors/)
})

test('of several winners the one with the largest lift is shipped, and harm stands before it', () => {
  const variants = [variant(0.01, 0.1, { name: 'B' }), variant(0.02, 0.3, { name: 'C' })]
  expect(verdict(plan, state({ variants }))).toMatchObject({ kind: 'ship', variant: 'C' })
  expect(verdict(plan, state({ variants: [...variants, variant(0, 1, { name: 'D', harmedGuardrails: ['Speed'] })] }))).toMatchObject({ kind: 'harm', variant: 'D' })
})

describe('for all data', () => {
  test('more in favor never turns ship into anything but ship', () => {
    const end = fc.double({ min: -0.5, max: 0.5, noNaN: true })
    fc.assert(
      fc.property(end, fc.double({ min: 0, max: 0.5, noNaN: true }), fc.double({ min: 0, max: 0.5, noNaN: true }), (low, width, shift) => {
        const before = verdict(plan, state({ variants: [variant(low, low + width)] }))
        const after = verdict(plan, state({ variants: [variant(low + shift, low + width + shift)] }))
        if (before.kind === 'ship') expect(after.kind).toBe('ship')
        expect(after.kind).not.toBe('harm')
      }),
    )
  })
})
