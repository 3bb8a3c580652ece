import { choleskyFactor, solveByFactor } from '../statistics/cholesky'
import type { MetricKind } from '../statistics/estimate'
import type { EarlierBehavior } from './earlierBehavior'

/** What a level of a stratum adds. Levels are visitors' words, so they are no keys of an object. */
interface LevelEffect {
  name: string
  adds: number
}

/**
 * What a visitor's value of a metric is expected to be, from what was known before the exposure. It is fitted to
 * visitors of the time before an experiment and stays as it is, so that nothing of the experiment is in it.
 */
export interface ExpectationModel {
  base: number
  /** Had an earlier visit. */
  returned: number
  /** For each unit of the metric before. */
  value: number
  /** For each unit of ln(1 + earlier visits). */
  visits: number
  /** For each unit of ln(1 + money spent before). */
  spent: number
  /** Of levels with enough visitors; others add nothing. */
  devices: LevelEffect[]
  sources: LevelEffect[]
  /** Share of the variance that it explains among visitors whom it was not fitted to, from 0 to 1. */
  explained: number
  /** Visitors it was fitted to. */
  visitors: number
}

/** A visitor of the time before: what was known, and what came of it. */
export interface ObservedVisitor {
  earlier: EarlierBehavior
  value: number
  /** Of a ratio. */
  denominator: number
}

/** With fewer visitors nothing is fitted. */
const LEAST_VISITORS = 200
/** With fewer visitors a device or source has no effect of its own. */
const LEAST_OF_LEVEL = 50
/** As many visitors as pull each standardized slope to zero: what hardly anybody has does not run away. */
const RIDGE = 20
const FOLDS = 5
const DIGITS = 9

/**
 * Fits what is known of visitors to what they did: ridge regression on standardized columns.
 *
 * @param kind - of the metric; of a ratio, its linearization (y − R·z) / z̄ is expected
 * @param visitors - in an order that has nothing to do with what they did
 * @returns null with fewer than 200 visitors, or where nothing varies
 * @see Hoerl, Kennard (1970), Ridge regression, Technometrics 12; Guo et al. (2021), Machine learning for variance
 *   reduction in online experiments, for a model as the covariate
 */
export function fitExpectation(kind: MetricKind, visitors: readonly ObservedVisitor[]): ExpectationModel | null {
  const targets = targetsOf(kind, visitors)
  if (visitors.length < LEAST_VISITORS || !targets) return null
  const levels = {
    devices: levelsOf(visitors.map(({ earlier }) => earlier.device)),
    sources: levelsOf(visitors.map(({ earlier }) => earlier.source)),
  }
  const rows = visitors.map(({ earlier }) => columnsOf(earlier, levels))
  const slopes = ridge(rows, targets)
  if (!slopes) return null
  const [returned, value, visits, spent, ...ofLevels] = slopes.slopes
  return {
    base: slopes.base,
    returned: returned!,
    value: value!,
    visits: visits!,
    spent: spent!,
    devices: levels.devices.map((name, index) => ({ name, adds: ofLevels[index]! })),
    sources: levels.sources.map((name, index) => ({ name, adds: ofLevels[levels.devices.length + index]! })),
    explained: explainedShare(rows, targets),
    visitors: visitors.length,
  }
}

/** @returns with nine digits that count: enough to adjust by, and short to store */
export function expectedValue(model: ExpectationModel, earlier: EarlierBehavior): number {
  const added = (levels: readonly LevelEffect[], level: string) => levels.find(({ name }) => name === level)?.adds ?? 0
  const [returned, value, visits, spent] = columnsOf(earlier, NO_LEVELS)
  const expected =
    model.base +
    model.returned * returned! +
    model.value * value! +
    model.visits * visits! +
    model.spent * spent! +
    added(model.devices, earlier.device) +
    added(model.sources, earlier.source)
  return Number(expected.toPrecision(DIGITS))
}

interface Levels {
  devices: readonly string[]
  sources: readonly string[]
}
const NO_LEVELS: Levels = { devices: [], sources: [] }

function columnsOf({ value, visits, spent, device, source }: EarlierBehavior, { devices, sources }: Levels): number[] {
  return [
    value === null ? 0 : 1,
    value ?? 0,
    Math.log1p(visits),
    // More may have been given back than was spent in the time that is looked at.
    Math.log1p(Math.max(0, spent)),
    ...devices.map((name) => Number(name === device)),
    ...sources.map((name) => Number(name === source)),
  ]
}

function levelsOf(names: readonly string[]): string[] {
  const counts = new Map<string, number>()
  for (const name of names) counts.set(name, (counts.get(name) ?? 0) + 1)
  return [...counts].flatMap(([name, count]) => (count >= LEAST_OF_LEVEL ? [name] : [])).sort()
}

/** null where nothing varies, or nobody has a denominator. */
function targetsOf(kind: MetricKind, visitors: readonly ObservedVisitor[]): number[] | null {
  const values = visitors.map(({ value }) => value)
  const targets = kind === 'ratio' ? linearized(visitors) : values
  return targets && targets.some((each) => each !== targets[0]) ? targets : null
}

function linearized(visitors: readonly ObservedVisitor[]): number[] | null {
  const total = (field: 'value' | 'denominator') => visitors.reduce((sum, each) => sum + each[field], 0)
  const denominators = total('denominator')
  if (denominators === 0) return null
  const ratio = total('value') / denominators
  return visitors.map(({ value, denominator }) => ((value - ratio * denominator) * visitors.length) / denominators)
}

/** Slopes of the columns and the value where all of them are 0; null for columns that cannot be told apart. */
function ridge(
  rows: readonly (readonly number[])[],
  targets: readonly number[],
): { base: number; slopes: number[] } | null {
  const means = rows[0]!.map((_, column) => average(rows.map((row) => row[column]!)))
  const deviations = means.map((mean, column) =>
    Math.sqrt(average(rows.map((row) => (row[column]! - mean) * (row[column]! - mean)))),
  )
  const used = deviations.flatMap((deviation, column) => (deviation > 1e-9 ? [column] : []))
  const center = average(targets)
  const standardized = rows.map((row) => used.map((column) => (row[column]! - means[column]!) / deviations[column]!))
  const products = used.map(() => new Array<number>(used.length).fill(0))
  const right = new Array<number>(used.length).fill(0)
  standardized.forEach((row, at) => {
    const target = targets[at]! - center
    for (let i = 0; i < row.length; i++) {
      right[i]! += row[i]! * target
      for (let j = 0; j <= i; j++) products[i]![j]! += row[i]! * row[j]!
    }
  })
  used.forEach((_, i) => {
    products[i]![i]! += RIDGE
    for (let j = 0; j < i; j++) products[j]![i] = products[i]![j]!
  })
  const factor = choleskyFactor(products)
  if (!factor) return null
  const solved = solveByFactor(factor, right)
  const slopes = means.map((_, column) => {
    const place = used.indexOf(column)
    return place < 0 ? 0 : solved[place]! / deviations[column]!
  })
  return { base: center - slopes.reduce((sum, slope, column) => sum + slope * means[column]!, 0), slopes }
}

/** Squared correlation of the targets with what models say that were fitted to other visitors. */
function explainedShare(rows: readonly (readonly number[])[], targets: readonly number[]): number {
  const expected = new Array<number>(rows.length).fill(0)
  for (let fold = 0; fold < FOLDS; fold++) {
    const others = rows.flatMap((_, at) => (at % FOLDS === fold ? [] : [at]))
    const fitted = ridge(
      others.map((at) => rows[at]!),
      others.map((at) => targets[at]!),
    )
    if (!fitted) return 0
    for (let at = fold; at < rows.length; at += FOLDS)
      expected[at] = fitted.base + rows[at]!.reduce((sum, each, column) => sum + each * fitted.slopes[column]!, 0)
  }
  const [mean, center] = [average(targets), average(expected)]
  const shared = average(targets.map((target, at) => (target - mean) * (expected[at]! - center)))
  const spread = average(targets.map((target) => (target - mean) ** 2))
  const ofExpected = average(expected.map((each) => (each - center) ** 2))
  return shared > 0 && ofExpected > 0 ? (shared * shared) / (spread * ofExpected) : 0
}

function average(values: readonly number[]): number {
  return values.reduce((sum, each) => sum + each, 0) / values.length
}
