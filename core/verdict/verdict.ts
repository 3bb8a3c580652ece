import type { Interval } from '../statistics/compareArms'
import type { Shortfall } from '../statistics/shortfall'

/**
 * By what a plan decides. spending: a look a day, with an error that is spent until the planned end; sequential: intervals
 * that hold at every look, for as long as it takes; fixed: one look at the planned end; low-risk: as sequential, and also
 * ships when little can be lost.
 */
export const DECISION_RULES = ['spending', 'sequential', 'fixed', 'low-risk'] as const
export type DecisionRule = (typeof DECISION_RULES)[number]

/**
 * What a plan lets an experiment pause itself for, beside a redirect target that fails: a guardrail that is harmed, a split
 * that is broken, or both.
 */
export const SELF_PAUSES = ['target', 'harm', 'split', 'both'] as const
export type SelfPause = (typeof SELF_PAUSES)[number]

/** What was fixed before the start. */
export interface DecisionPlan {
  /** Smallest relative lift worth having, above 0. */
  smallestLift: number
  /** Two-sided error level. */
  alpha: number
  rule: DecisionRule
  /** Expected loss, relative to the control's mean, under which the low-risk rule ships. */
  lossLimit: number
  leastWeeks: number
  longestWeeks: number
  /** Visitors the plan expects in all arms together by the longest run. */
  plannedVisitors: number
  /** unharmed, where left out: ships unless a guardrail is shown to be beyond its limit; safe: only once all are shown to be within. */
  guardrailRule?: 'unharmed' | 'safe'
  /** Below this chance to still end with Ship it is advised to stop; null, or left out, for no advice. */
  leastChance?: number | null
  /** target, where left out. */
  pausesFor?: SelfPause
}

/** An effect that is held against a share of the control's mean. Signs are turned so that more is better. */
export interface Effect {
  /** Relative lift; null while the data cannot give one, as where the control's mean cannot be told from zero. */
  liftInterval: Interval | null
  /** Absolute difference: what is gone by where there is no lift. */
  differenceInterval?: Interval | null
  /** Mean of the control, to which shares are relative. */
  controlMean?: number | null
  /** What is missing before the intervals may be read. */
  shortfall?: Shortfall | null
}

/** What is known about one variant: the effect on the primary metric by the plan's rule. */
export interface VariantState extends Effect {
  name: string
  lift: number | null
  /** p-value by the plan's rule, adjusted for the number of variants. */
  adjustedPValue: number
  /** Expected loss of choosing it, relative to the control's mean; null without a control mean. */
  relativeLoss: number | null
  guardrails: readonly GuardrailState[]
}

/** A guardrail metric of one variant: it is looked at every day, so its intervals are always valid, whatever the rule. */
export interface GuardrailState extends Effect {
  name: string
  /** Relative change to the worse that is not accepted, above 0. */
  limit: number
}

export interface ExperimentState {
  daysRun: number
  visitors: number
  /** Reasons not to trust the data, in words; empty when it is sound. */
  unsound: readonly string[]
  /** It has ended: nothing more will come. */
  isOver?: boolean
  /** The plan's last look was taken: what it left open stays so. */
  isLastLook?: boolean
  variants: readonly VariantState[]
}

export type VerdictKind = 'distrust' | 'harm' | 'early' | 'ship' | 'no-difference' | 'ship-low-risk' | 'open' | 'go-on'

export interface Verdict {
  kind: VerdictKind
  /** The variant to ship, or that does harm. */
  variant: string | null
  /** What to do, in a few words. */
  title: string
  /** Why, in words and numbers. */
  reasons: string[]
}

/** The verdict without its words: cheap enough for every day of thousands of rehearsed runs. */
export interface Decision {
  kind: VerdictKind
  /** Position among the state's variants of the one to ship, or that does harm. */
  position: number | null
}

/**
 * What a decision plan says to do now.
 *
 * Checked in this order: unsound data, harm to a guardrail, the least run, the primary metric's interval
 * against 0 and against the smallest worthwhile lift, low risk, the longest run. An interval that may not be read yet
 * says nothing.
 *
 * @param plan - what was fixed before the start
 * @param state - what the data says so far
 * @example decide(plan, { daysRun: 2, visitors: 300, unsound: [], variants: [] }).kind // 'early'
 */
export function decide(plan: DecisionPlan, state: ExperimentState): Decision {
  const { variants } = state
  if (state.unsound.length > 0) return { kind: 'distrust', position: null }

  const harmed = variants.findIndex((variant) => variant.guardrails.some(isHarmed))
  if (harmed >= 0) return { kind: 'harm', position: harmed }

  if (state.daysRun < plan.leastWeeks * 7) return { kind: 'early', position: null }

  const longestReached = state.daysRun >= plan.longestWeeks * 7
  const mayConclude = plan.rule !== 'fixed' || longestReached || state.visitors >= plan.plannedVisitors
  if (mayConclude) {
    const winner = bestOf(variants, (variant) => (isWinner(plan, variant) ? (variant.lift ?? 0) : null))
    if (winner !== null) return { kind: 'ship', position: winner }
    const none = variants.length > 0 && variants.every((variant) => isBelow(variant, plan.smallestLift))
    if (none) return { kind: 'no-difference', position: null }
    // A second look would need another interval.
    if (plan.rule === 'fixed' || state.isLastLook) return { kind: 'open', position: null }
  }

  if (plan.rule === 'low-risk') {
    const safest = bestOf(variants, (variant) =>
      isRiskLow(plan, variant) && mayShip(plan, variant) ? -variant.relativeLoss! : null,
    )
    if (safest !== null) return { kind: 'ship-low-risk', position: safest }
  }
  if (longestReached || state.isOver) return { kind: 'open', position: null }
  return { kind: variants.some(({ shortfall }) => shortfall) ? 'early' : 'go-on', position: null }
}

function isRiskLow({ lossLimit }: DecisionPlan, { relativeLoss, shortfall }: VariantState): boolean {
  return !shortfall && relativeLoss !== null && relativeLoss < lossLimit
}

/** Where a plan asks for it, every guardrail must be shown to be within its limit. */
function mayShip({ guardrailRule }: DecisionPlan, { guardrails }: VariantState): boolean {
  return guardrailRule !== 'safe' || guardrails.every(isSafe)
}

function isSafe(guardrail: GuardrailState): boolean {
  return isAbove(guardrail, -guardrail.limit)
}

function isHarmed(guardrail: GuardrailState): boolean {
  return isBelow(guardrail, -guardrail.limit)
}

function isWinner(plan: DecisionPlan, variant: VariantState): boolean {
  return isAbove(variant, 0) && variant.adjustedPValue < plan.alpha && mayShip(plan, variant)
}

/** Whether the whole interval lies above a share of the control's mean. */
function isAbove({ liftInterval, differenceInterval, controlMean, shortfall }: Effect, share: number): boolean {
  if (shortfall) return false
  if (liftInterval) return liftInterval[0] > share
  return !!differenceInterval && differenceInterval[0] > share * Math.abs(controlMean ?? 0)
}

/** Whether the whole interval lies below a share of the control's mean. */
function isBelow({ liftInterval, differenceInterval, controlMean, shortfall }: Effect, share: number): boolean {
  if (shortfall) return false
  if (liftInterval) return liftInterval[1] < share
  return !!differenceInterval && differenceInterval[1] < share * Math.abs(controlMean ?? 0)
}

/** Position of the variant with the highest score; null where none has one. */
function bestOf(variants: readonly VariantState[], score: (variant: VariantState) => number | null): number | null {
  let best: number | null = null
  let highest = -Infinity
  variants.forEach((variant, position) => {
    const own = score(variant)
    if (own !== null && own > highest) {
      highest = own
      best = position
    }
  })
  return best
}

/** What a decision plan says to do now, with its reasons in words and numbers. See `decide`. */
export function verdict(plan: DecisionPlan, state: ExperimentState): Verdict {
  const { kind, position } = decide(plan, state)
  const variant = position === null ? null : state.variants[position]!
  return {
    kind,
    variant: variant?.name ?? null,
    title: kind === 'early' && state.isOver ? 'Ended too early to say' : titleOf(kind, variant?.name ?? ''),
    reasons: [
      ...reasonsOf(kind, plan, state, variant),
      ...(kind === 'distrust' || kind === 'harm' ? [] : guardrailReasons(plan, state, variant)),
    ],
  }
}

/** What each guardrail says: of the variant that is shipped, or of all. */
function guardrailReasons(plan: DecisionPlan, { variants }: ExperimentState, shipped: VariantState | null): string[] {
  const looked = shipped ? [shipped] : variants
  return looked.flatMap(({ name, guardrails }) =>
    guardrails.map((guardrail) => {
      const of = looked.length > 1 ? ` of “${name}”` : ''
      return `Guardrail ${guardrail.name}${of}: ${guardrailInWords(guardrail)}${isSafe(guardrail) || plan.guardrailRule !== 'safe' ? '' : ' The plan ships only once it is.'}`
    }),
  )
}

function guardrailInWords(guardrail: GuardrailState): string {
  const { limit, liftInterval, differenceInterval, shortfall } = guardrail
  if (shortfall) return `not enough to read yet. ${shortfallInWords(shortfall)}`
  const accepted = `the plan accepts ${percent(-limit)}`
  const worst = liftInterval
    ? percent(liftInterval[0])
    : differenceInterval
      ? `${amount(differenceInterval[0])} a visitor`
      : null
  if (worst === null) return `nothing is known of it yet; ${accepted}.`
  return isSafe(guardrail)
    ? `at worst ${worst}; ${accepted}.`
    : `at worst ${worst}; ${accepted}. It is not shown to be safe.`
}

/** What is still missing before intervals may be read, as a sentence. */
export function shortfallInWords({ arm, what, has, needs }: Shortfall, name?: string): string {
  const whose = arm === 'control' ? 'The control' : name ? `“${name}”` : 'The variant'
  const [had, wanted] = [has.toLocaleString('en-US'), needs.toLocaleString('en-US')]
  return what === 'visitors'
    ? `${whose} has ${had} visitors. Values this skewed need about ${wanted} in an arm that is smaller than the other.`
    : `${whose} has ${had} ${what}, and needs ${wanted}.`
}

function titleOf(kind: VerdictKind, name: string): string {
  const titles: Record<VerdictKind, string> = {
    distrust: 'Don’t trust these numbers',
    harm: `Stop: “${name}” does harm`,
    early: 'Too early to say',
    ship: `Ship “${name}”`,
    'no-difference': 'No worthwhile difference',
    'ship-low-risk': `Ship “${name}”: low risk`,
    open: 'Open question',
    'go-on': 'Keep running',
  }
  return titles[kind]
}

function reasonsOf(
  kind: VerdictKind,
  plan: DecisionPlan,
  state: ExperimentState,
  variant: VariantState | null,
): string[] {
  switch (kind) {
    case 'distrust':
      return [...state.unsound]
    case 'harm':
      return variant!.guardrails.filter(isHarmed).map((guardrail) => {
        const { name, limit, liftInterval, differenceInterval } = guardrail
        const least = liftInterval ? percent(-liftInterval[1], false) : `${amount(-differenceInterval![1])} a visitor`
        return `${name} is worse by at least ${least}; the plan accepts ${percent(limit, false)}.`
      })
    case 'early': {
      const missing = missingInWords(state)
      if (state.daysRun >= plan.leastWeeks * 7 && missing.length > 0) return missing
      if (state.isOver)
        return [`The plan asks for at least ${weeks(plan.leastWeeks)}; it ran ${count(state.daysRun, 'day')}.`]
      const reasons = [
        `The plan runs at least ${weeks(plan.leastWeeks)}: ${count(plan.leastWeeks * 7 - state.daysRun, 'day')} to go.`,
      ]
      const toCome = plan.plannedVisitors - state.visitors
      if (toCome > 0)
        reasons.push(
          `${toCome.toLocaleString('en-US')} of ${plan.plannedVisitors.toLocaleString('en-US')} planned visitors are still to come.`,
        )
      return reasons
    }
    case 'ship': {
      const { liftInterval, differenceInterval } = variant!
      if (liftInterval)
        return [`The lift holds at least ${percent(liftInterval[0])}, at most ${percent(liftInterval[1])}.`]
      return [
        `The difference holds at least ${amount(differenceInterval![0])} a visitor, at most ${amount(differenceInterval![1])}.`,
        'There is no lift in percent: the control’s mean cannot be told from zero.',
      ]
    }
    case 'no-difference': {
      const lifts = state.variants.flatMap(({ liftInterval }) => (liftInterval ? [liftInterval[1]] : []))
      const differences = state.variants.flatMap(({ differenceInterval }) =>
        differenceInterval ? [differenceInterval[1]] : [],
      )
      const most =
        lifts.length === state.variants.length
          ? `The lift is at most ${percent(Math.max(...lifts))}`
          : `The difference is at most ${amount(Math.max(...differences))} a visitor`
      return [`${most}; the plan asks for ${percent(plan.smallestLift)}.`, 'Keep the control.']
    }
    case 'ship-low-risk':
      return [
        `Should it be worse after all, it costs ${percent(variant!.relativeLoss!, false)} on average; the plan accepts ${percent(plan.lossLimit, false)}.`,
      ]
    case 'open': {
      const missing = missingInWords(state)
      if (missing.length > 0) return ['The run is over, and there is not enough to read.', ...missing]
      if (state.isOver && state.daysRun < plan.longestWeeks * 7 && plan.rule !== 'fixed' && !state.isLastLook)
        return ['It has ended, and the interval still covers both a worthwhile lift and none.']
      return [`The ${endInWords(plan, state)} is over and the interval still covers both a worthwhile lift and none.`]
    }
    case 'go-on':
      return [
        `The interval still covers both a worthwhile lift and none; at most ${count(plan.longestWeeks * 7 - state.daysRun, 'day')} to go.`,
      ]
  }
}

/** What came to its end. */
function endInWords({ rule, longestWeeks }: DecisionPlan, { daysRun }: ExperimentState): string {
  if (daysRun >= longestWeeks * 7) return `longest run of ${weeks(longestWeeks)}`
  return `${rule === 'spending' ? 'last' : 'one'} look at the planned visitors`
}

function missingInWords({ variants }: ExperimentState): string[] {
  return variants.flatMap(({ name, shortfall }) => (shortfall ? [shortfallInWords(shortfall, name)] : []))
}

function amount(value: number): string {
  return `${value < 0 ? '−' : ''}${Number(Math.abs(value).toPrecision(3))}`
}

function percent(share: number, signed = true): string {
  const text = Math.abs(share * 100).toFixed(Math.abs(share) < 0.01 ? 2 : 1)
  const sign = share < 0 ? '−' : signed ? '+' : ''
  return `${sign}${text} %`
}

function count(number: number, unit: string): string {
  const whole = Math.ceil(number)
  return `${whole} ${unit}${whole === 1 ? '' : 's'}`
}

function weeks(number: number): string {
  return count(number, 'week')
}
