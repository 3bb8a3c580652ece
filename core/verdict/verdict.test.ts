import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { decide, verdict, type DecisionPlan, type ExperimentState, type VariantState } from './verdict'

const plan: DecisionPlan = {
  smallestLift: 0.05,
  alpha: 0.05,
  rule: 'sequential',
  lossLimit: 0.005,
  leastWeeks: 2,
  longestWeeks: 6,
  plannedVisitors: 20_000,
}
const variant = (low: number, high: number, more: Partial<VariantState> = {}): VariantState => ({
  name: 'B',
  liftInterval: [low, high],
  lift: (low + high) / 2,
  adjustedPValue: low > 0 ? 0.01 : 0.5,
  relativeLoss: 0.01,
  guardrails: [],
  ...more,
})
const state = (changes: Partial<ExperimentState> = {}): ExperimentState => ({
  daysRun: 20,
  visitors: 15_000,
  unsound: [],
  variants: [variant(-0.02, 0.2)],
  ...changes,
})

test.each<[string, Partial<DecisionPlan>, Partial<ExperimentState>]>([
  ['distrust', {}, { unsound: ['The split is broken.'], variants: [variant(0.1, 0.2)] }],
  [
    'harm',
    {},
    {
      daysRun: 1,
      variants: [variant(0.1, 0.2, { guardrails: [{ name: 'Refunds', limit: 0.02, liftInterval: [-0.1, -0.03] }] })],
    },
  ],
  ['early', {}, { daysRun: 13, variants: [variant(0.1, 0.2)] }],
  ['ship', {}, { variants: [variant(0.01, 0.2)] }],
  ['go-on', {}, { variants: [variant(0.01, 0.2, { adjustedPValue: 0.06 }), variant(-0.1, 0.2)] }],
  ['no-difference', {}, { variants: [variant(-0.02, 0.04)] }],
  ['go-on', {}, {}],
  ['open', {}, { daysRun: 42 }],
  ['open', { rule: 'spending' }, { isLastLook: true }],
  ['go-on', { rule: 'spending' }, {}],
  ['ship', { rule: 'spending' }, { isLastLook: true, variants: [variant(0.01, 0.2)] }],
  ['go-on', { rule: 'fixed' }, { variants: [variant(0.01, 0.2)] }],
  ['open', { rule: 'fixed' }, { visitors: 20_000 }],
  ['ship', { rule: 'fixed' }, { visitors: 20_000, variants: [variant(0.01, 0.2)] }],
  ['ship-low-risk', { rule: 'low-risk' }, { variants: [variant(-0.02, 0.2, { relativeLoss: 0.001 })] }],
  ['go-on', { rule: 'low-risk' }, {}],
])('%s under %o', (kind, planChanges, stateChanges) => {
  expect(verdict({ ...plan, ...planChanges }, state(stateChanges)).kind).toBe(kind)
})

test('“too early” says how much is missing', () => {
  expect(verdict(plan, state({ daysRun: 11, visitors: 6000 })).reasons.join(' ')).toMatch(
    /3 days to go.*14,000 of 20,000 planned visitors/,
  )
})

test('of several winners the one with the largest lift is shipped, and harm stands before it', () => {
  const variants = [variant(0.01, 0.1, { name: 'B' }), variant(0.02, 0.3, { name: 'C' })]
  expect(verdict(plan, state({ variants }))).toMatchObject({ kind: 'ship', variant: 'C' })
  expect(
    verdict(
      plan,
      state({
        variants: [
          ...variants,
          variant(0, 1, { name: 'D', guardrails: [{ name: 'Speed', limit: 0.02, liftInterval: [-0.1, -0.03] }] }),
        ],
      }),
    ),
  ).toMatchObject({ kind: 'harm', variant: 'D' })
})

test('a guardrail does harm only when its whole interval is beyond the limit, and says by how much', () => {
  const guarded = (low: number, high: number, limit: number) =>
    state({ variants: [variant(0.1, 0.2, { guardrails: [{ name: 'Refunds', limit, liftInterval: [low, high] }] })] })
  expect(verdict(plan, guarded(-0.1, -0.03, 0.02))).toMatchObject({
    kind: 'harm',
    reasons: ['Refunds is worse by at least 3.0 %; the plan accepts 2.0 %.'],
  })
  expect(verdict(plan, guarded(-0.1, -0.01, 0.02)).kind).toBe('ship')
  expect(
    verdict(
      plan,
      state({ variants: [variant(0.1, 0.2, { guardrails: [{ name: 'Refunds', limit: 0.02, liftInterval: null }] })] }),
    ).kind,
  ).toBe('ship')
})

describe('where there is no lift, since the control’s mean cannot be told from zero', () => {
  const byDifference = (low: number, high: number, more: Partial<VariantState> = {}) =>
    variant(0, 0, {
      liftInterval: null,
      lift: null,
      differenceInterval: [low, high],
      controlMean: 0,
      adjustedPValue: 0.01,
      ...more,
    })

  test('the verdict goes by the difference', () => {
    expect(verdict(plan, state({ variants: [byDifference(0.2, 1.4)] }))).toMatchObject({
      kind: 'ship',
      reasons: [
        'The difference holds at least 0.2 a visitor, at most 1.4.',
        expect.stringContaining('no lift in percent'),
      ],
    })
    expect(verdict(plan, state({ variants: [byDifference(-0.2, 1.4)] })).kind).toBe('go-on')
    expect(verdict(plan, state({ variants: [byDifference(-0.4, -0.1)] })).kind).toBe('no-difference')
  })

  test('and so does a guardrail', () => {
    const guarded = (interval: [number, number], controlMean: number) =>
      state({
        variants: [
          variant(0.1, 0.2, {
            guardrails: [
              { name: 'Refunds', limit: 0.1, liftInterval: null, differenceInterval: interval, controlMean },
            ],
          }),
        ],
      })
    expect(verdict(plan, guarded([-3, -0.5], 0))).toMatchObject({
      kind: 'harm',
      reasons: ['Refunds is worse by at least 0.5 a visitor; the plan accepts 10.0 %.'],
    })
    expect(verdict(plan, guarded([-3, -0.5], 10)).kind).toBe('ship')
    expect(verdict(plan, guarded([-3, -1.5], 10)).kind).toBe('harm')
  })
})

describe('for all data', () => {
  const end = fc.double({ min: -0.5, max: 0.5, noNaN: true })
  const width = fc.double({ min: 0, max: 0.5, noNaN: true })
  const anyVariant = fc
    .record({
      low: end,
      width,
      loss: fc.option(fc.double({ min: 0, max: 0.1, noNaN: true })),
      p: fc.double({ min: 0, max: 1, noNaN: true }),
      guardrail: fc.option(fc.tuple(end, width)),
    })
    .map(({ low, width: wide, loss, p, guardrail }) =>
      variant(low, low + wide, {
        adjustedPValue: p,
        relativeLoss: loss,
        guardrails: guardrail
          ? [{ name: 'Refunds', limit: 0.02, liftInterval: [guardrail[0], guardrail[0] + guardrail[1]] }]
          : [],
      }),
    )
  const anyState = fc
    .record({
      daysRun: fc.integer({ min: 0, max: 60 }),
      visitors: fc.integer({ min: 0, max: 40_000 }),
      variants: fc.array(anyVariant, { minLength: 1, maxLength: 4 }),
    })
    .map((each) => ({ ...each, unsound: [] }))
  const rule = fc.constantFrom('sequential' as const, 'fixed' as const, 'low-risk' as const)

  test('the order of the variants changes no verdict, and the words are those of the decision', () => {
    fc.assert(
      fc.property(anyState, rule, (each, ruled) => {
        const own = { ...plan, rule: ruled }
        const there = decide(own, each)
        expect(decide(own, { ...each, variants: [...each.variants].reverse() }).kind).toBe(there.kind)
        const spoken = verdict(own, each)
        expect(spoken.kind).toBe(there.kind)
        expect(spoken.reasons.join(' ')).not.toMatch(/NaN|undefined|Infinity/)
        expect(spoken.reasons.length).toBeGreaterThan(0)
      }),
    )
  })

  test('unsound data and harm come before everything, whatever else is known', () => {
    fc.assert(
      fc.property(anyState, rule, (each, ruled) => {
        expect(decide({ ...plan, rule: ruled }, { ...each, unsound: ['broken'] }).kind).toBe('distrust')
        const harmed = each.variants.some(({ guardrails }) =>
          guardrails.some(({ liftInterval }) => liftInterval![1] < -0.02),
        )
        expect(decide({ ...plan, rule: ruled }, each).kind === 'harm').toBe(harmed)
      }),
    )
  })

  test('more in favor never turns ship into anything but ship', () => {
    fc.assert(
      fc.property(
        end,
        fc.double({ min: 0, max: 0.5, noNaN: true }),
        fc.double({ min: 0, max: 0.5, noNaN: true }),
        (low, wide, shift) => {
          const before = verdict(plan, state({ variants: [variant(low, low + wide)] }))
          const after = verdict(plan, state({ variants: [variant(low + shift, low + wide + shift)] }))
          if (before.kind === 'ship') expect(after.kind).toBe('ship')
          expect(after.kind).not.toBe('harm')
        },
      ),
    )
  })
})

test.each<[string, Partial<ExperimentState>, string, RegExp]>([
  ['in the middle', {}, 'Open question', /^It has ended, and the interval/],
  ['before its least run', { daysRun: 3 }, 'Ended too early to say', /at least 2 weeks; it ran 3 days/],
])('what has ended %s has no days to go', (_, changes, title, reason) => {
  const { title: said, reasons } = verdict(plan, state({ ...changes, isOver: true }))
  expect(said).toBe(title)
  expect(reasons.join(' ')).toMatch(reason)
  expect(reasons.join(' ')).not.toMatch(/to go|still to come/)
})

describe('an interval that may not be read yet', () => {
  const few = { arm: 'variant', what: 'conversions', has: 7, needs: 20 } as const
  const harmed = { name: 'Refunds', limit: 0.02, liftInterval: [-0.3, -0.1] as [number, number] }

  test.each<[string, Partial<DecisionPlan>, Partial<ExperimentState>]>([
    ['early', {}, { variants: [variant(0.01, 0.2, { shortfall: few })] }],
    ['early', {}, { variants: [variant(-0.2, 0.01, { shortfall: few })] }],
    ['early', { rule: 'low-risk' }, { variants: [variant(-0.02, 0.2, { relativeLoss: 0.001, shortfall: few })] }],
    ['go-on', {}, { variants: [variant(-0.1, 0.2, { guardrails: [{ ...harmed, shortfall: few }] })] }],
    ['ship', {}, { variants: [variant(0.01, 0.2, { shortfall: few }), variant(0.01, 0.1)] }],
    ['open', {}, { daysRun: 42, variants: [variant(0.01, 0.2, { shortfall: few })] }],
  ])('says nothing: %s under %o', (kind, planChanges, stateChanges) => {
    expect(verdict({ ...plan, ...planChanges }, state(stateChanges)).kind).toBe(kind)
  })

  test('is named with what is missing', () => {
    expect(verdict(plan, state({ variants: [variant(0.01, 0.2, { shortfall: few })] })).reasons).toEqual([
      '“B” has 7 conversions, and needs 20.',
    ])
    const skewed = { arm: 'control', what: 'visitors', has: 900, needs: 12_400 } as const
    expect(
      verdict(plan, state({ daysRun: 42, variants: [variant(0.01, 0.2, { shortfall: skewed })] })).reasons.join(' '),
    ).toMatch(/The run is over.*The control has 900 visitors.*about 12,400/)
  })
})

describe('guardrails', () => {
  const guarded = (low: number, high: number) =>
    state({
      variants: [variant(0.01, 0.2, { guardrails: [{ name: 'Refunds', limit: 0.05, liftInterval: [low, high] }] })],
    })

  test('are named in the reasons of a verdict, also where they are wide open', () => {
    expect(verdict(plan, guarded(-0.4, 0.3)).reasons.at(-1)).toBe(
      'Guardrail Refunds: at worst −40.0 %; the plan accepts −5.0 %. It is not shown to be safe.',
    )
    expect(verdict(plan, guarded(-0.01, 0.3)).reasons.at(-1)).toBe(
      'Guardrail Refunds: at worst −1.0 %; the plan accepts −5.0 %.',
    )
  })

  test('keep a variant from shipping until they are shown to be safe, where the plan asks for it', () => {
    const safe: DecisionPlan = { ...plan, guardrailRule: 'safe' }
    expect([verdict(plan, guarded(-0.4, 0.3)).kind, verdict(safe, guarded(-0.4, 0.3)).kind]).toEqual(['ship', 'go-on'])
    expect(verdict(safe, guarded(-0.04, 0.3)).kind).toBe('ship')
    const risk = state({
      variants: [
        variant(-0.02, 0.2, {
          relativeLoss: 0.001,
          guardrails: [{ name: 'Refunds', limit: 0.05, liftInterval: [-0.4, 0.3] }],
        }),
      ],
    })
    expect(verdict({ ...safe, rule: 'low-risk' }, risk).kind).toBe('go-on')
  })
})
