import { normalQuantile, normalUpperTail } from './distributions'
import type { ArmEstimate } from './estimate'
import { holm } from './holm'
import type { Direction } from './posterior'

/** One combination of levels that visitors saw. */
export interface FactorialCell {
  /** Level of each factor, in the order of the factors. */
  levels: readonly string[]
  estimate: ArmEstimate
}

export interface Factor {
  name: string
  /** The first is coded −1 throughout. */
  levels: readonly string[]
}

/** What is estimated: one level of one factor, or of two factors together. */
export interface EffectName {
  factors: string[]
  levels: string[]
}

export interface FactorialEffect extends EffectName {
  estimate: number
  standardError: number
  interval: [number, number]
  pValue: number
  /** Effects that these cells cannot tell from this one. */
  aliases?: EffectName[]
}

/** A level against the first one of its factor, on average over all levels of the other factors. */
export interface LevelContrast {
  factor: string
  level: string
  difference: number
  interval: [number, number]
  /** Of the first level's mean; null where that is not above 0. */
  lift: number | null
  /** By the delta method. */
  liftInterval: [number, number] | null
  pValue: number
  /** Holm over all levels of all factors. */
  adjustedPValue: number
}

export interface FactorialReading {
  effects: FactorialEffect[]
  /** Main effects once more, as practitioners read them. */
  contrasts: LevelContrast[]
  bestCell: {
    levels: Record<string, string>
    visitors: number
    mean: number
    fitted: number
    interval: [number, number]
  } | null
  why?: string
}

/**
 * The effects that combinations cannot tell from one another, each of them with those that it mixes with.
 *
 * @param combinations - levels of each factor, in the order of the factors
 * @returns only effects that mix with others
 */
export function mixedEffects(
  factors: readonly Factor[],
  combinations: readonly (readonly string[])[],
): { effect: EffectName | null; with: EffectName[] }[] {
  if (combinations.length === 0) return []
  const cells = combinations.map((levels) => ({ levels, visitors: 1, mean: 0, weight: 1 }))
  const { independent, aliases } = separate(designColumns(factors, cells))
  return independent.flatMap(({ name }, index) => {
    const mixed = aliases.filter(({ of }) => of === index).map((alias) => alias.name)
    return mixed.length > 0 ? [{ effect: name, with: mixed }] : []
  })
}

interface Column {
  name: EffectName | null
  values: number[]
}

/**
 * Main effects and two-way interactions of factors, by weighted least squares on the cells' estimates.
 *
 * Effect coding: the first level of a factor is −1, each other level is +1 in a column of its own and 0 in those of
 * the others; interactions are products. So an effect of a two-level factor is half the difference between its
 * levels' means. Cells are weighted by visitors over variance. Of a fraction of all cells, effects that cannot be
 * told apart are named as aliases of the first.
 *
 * @param factors - two or more levels each
 * @param cells - those that were run; cells without a variance take the pooled variance of the others
 * @param alpha - intervals are at 1 − alpha, with normal quantiles
 * @param direction - whether the best cell is the one with the most or the least
 * @returns effects without the grand mean, and the cell with the best fitted value; a reason where nothing can be estimated
 * @see Montgomery (2017), Design and analysis of experiments, ch. 6 and 8; Wu, Hamada (2021), Experiments, section 5.2
 *   for aliases
 */
export function factorialEffects(
  factors: readonly Factor[],
  cells: readonly FactorialCell[],
  alpha: number,
  direction: Direction = 'up',
): FactorialReading {
  const used = withVariances(cells)
  if (used.length < 2)
    return {
      effects: [],
      contrasts: [],
      bestCell: null,
      why: 'Fewer than two combinations of levels have visitors whose values vary.',
    }
  const { independent, aliases } = separate(designColumns(factors, used))
  const weights = used.map(({ weight }) => weight)
  const size = independent.length
  const normal = independent.map((row) => independent.map((column) => dot(row.values, column.values, weights)))
  const inverse = invert(normal)
  const right = independent.map((column) =>
    dot(
      column.values,
      used.map(({ mean }) => mean),
      weights,
    ),
  )
  const coefficients = inverse.map((row) => row.reduce((sum, value, index) => sum + value * right[index]!, 0))
  const quantile = normalQuantile(1 - alpha / 2)

  const effects: FactorialEffect[] = []
  independent.forEach((column, index) => {
    if (!column.name) return
    const estimate = coefficients[index]!
    const standardError = Math.sqrt(inverse[index]![index]!)
    const own = aliases.filter((alias) => alias.of === index).map((alias) => alias.name)
    effects.push({
      ...column.name,
      estimate,
      standardError,
      interval: [estimate - quantile * standardError, estimate + quantile * standardError],
      pValue: 2 * normalUpperTail(Math.abs(estimate) / standardError),
      ...(own.length > 0 ? { aliases: own } : {}),
    })
  })

  const sign = direction === 'up' ? 1 : -1
  const fitted = used.map((cell, at) => {
    const row = independent.map((column) => column.values[at]!)
    const value = row.reduce((sum, x, index) => sum + x * coefficients[index]!, 0)
    let variance = 0
    for (let i = 0; i < size; i++) for (let j = 0; j < size; j++) variance += row[i]! * inverse[i]![j]! * row[j]!
    const half = quantile * Math.sqrt(Math.max(0, variance))
    return {
      levels: Object.fromEntries(factors.map((factor, index) => [factor.name, cell.levels[index]!])),
      visitors: cell.visitors,
      mean: cell.mean,
      fitted: value,
      interval: [value - half, value + half] as [number, number],
    }
  })
  const contrasts = levelContrasts(factors, independent, coefficients, inverse, quantile)
  return {
    effects,
    contrasts,
    bestCell: fitted.reduce((best, cell) => (sign * (cell.fitted - best.fitted) > 0 ? cell : best)),
  }
}

/** Linear combinations of the coefficients: in effect coding the first level's mean is the grand mean less all others. */
function levelContrasts(
  factors: readonly Factor[],
  columns: readonly Column[],
  coefficients: readonly number[],
  covariance: readonly (readonly number[])[],
  quantile: number,
): LevelContrast[] {
  const combine = (weights: readonly number[]) => dot(weights, coefficients)
  const covary = (one: readonly number[], other: readonly number[]) =>
    one.reduce((sum, weight, row) => sum + weight * dot(covariance[row]!, other), 0)
  const contrasts = factors.flatMap((factor) => {
    const levels = columns.map(({ name }) => (name && isMainOf(name, factor.name) ? name.levels[0]! : null))
    const first = columns.map(({ name }, at) => (name === null ? 1 : levels[at] === null ? 0 : -1))
    return factor.levels.slice(1).flatMap((level): Omit<LevelContrast, 'adjustedPValue'>[] => {
      if (!levels.includes(level)) return []
      const against = levels.map((each) => (each === null ? 0 : each === level ? 2 : 1))
      const difference = combine(against)
      const error = Math.sqrt(covary(against, against))
      const base = combine(first)
      const lift = base > 0 ? difference / base : null
      const liftError =
        lift === null
          ? 0
          : Math.sqrt(covary(against, against) - 2 * lift * covary(against, first) + lift ** 2 * covary(first, first)) /
            base
      const around = (center: number, half: number): [number, number] => [center - half, center + half]
      return [
        {
          factor: factor.name,
          level,
          difference,
          lift,
          interval: around(difference, quantile * error),
          liftInterval: lift === null ? null : around(lift, quantile * liftError),
          pValue: 2 * normalUpperTail(Math.abs(difference) / error),
        },
      ]
    })
  })
  const adjusted = holm(contrasts.map(({ pValue }) => pValue))
  return contrasts.map((contrast, index) => ({ ...contrast, adjustedPValue: adjusted[index]! }))
}

function isMainOf({ factors }: EffectName, factor: string): boolean {
  return factors.length === 1 && factors[0] === factor
}

interface UsedCell {
  levels: readonly string[]
  visitors: number
  mean: number
  weight: number
}

/** Cells that have an estimate; one that never varied gets the pooled variance, since it is not known without error. */
function withVariances(cells: readonly FactorialCell[]): UsedCell[] {
  const varying = cells.filter(
    ({ estimate }) => estimate.mean !== null && estimate.variance !== null && estimate.variance > 0,
  )
  const visitors = varying.reduce((sum, { estimate }) => sum + estimate.visitors, 0)
  const pooled = varying.reduce((sum, { estimate }) => sum + estimate.variance! * estimate.visitors, 0) / visitors
  if (!(pooled > 0)) return []
  return cells
    .filter(({ estimate }) => estimate.mean !== null && estimate.visitors > 0)
    .map(({ levels, estimate }) => ({
      levels,
      visitors: estimate.visitors,
      mean: estimate.mean!,
      weight: estimate.visitors / (estimate.variance || pooled),
    }))
}

/** The grand mean, main effects, then two-way interactions: what comes first keeps its name among aliases. */
function designColumns(factors: readonly Factor[], cells: readonly UsedCell[]): Column[] {
  const main = factors.map((factor, index) =>
    factor.levels.slice(1).map((level) => ({
      name: { factors: [factor.name], levels: [level] },
      values: cells.map((cell) =>
        cell.levels[index] === level ? 1 : cell.levels[index] === factor.levels[0] ? -1 : 0,
      ),
    })),
  )
  const interactions = main.flatMap((first, i) =>
    main.slice(i + 1).flatMap((second) =>
      first.flatMap((a) =>
        second.map((b) => ({
          name: { factors: [...a.name.factors, ...b.name.factors], levels: [...a.name.levels, ...b.name.levels] },
          values: a.values.map((value, cell) => value * b.values[cell]!),
        })),
      ),
    ),
  )
  return [{ name: null, values: cells.map(() => 1) }, ...main.flat(), ...interactions]
}

/** Columns that no earlier ones make up (Gram–Schmidt), and for each of the others those it cannot be told from. */
function separate(columns: readonly Column[]): { independent: Column[]; aliases: { of: number; name: EffectName }[] } {
  const independent: Column[] = []
  const basis: number[][] = []
  const aliases: { of: number; name: EffectName }[] = []
  for (const column of columns) {
    const rest = basis.reduce((left, axis) => {
      const share = dot(left, axis)
      return left.map((value, index) => value - share * axis[index]!)
    }, column.values)
    const length = Math.sqrt(dot(rest, rest))
    if (length > 1e-8 * Math.sqrt(column.values.length)) {
      independent.push(column)
      basis.push(rest.map((value) => value / length))
    } else if (column.name) {
      for (const of of partsOf(column, independent)) aliases.push({ of, name: column.name })
    }
  }
  return { independent, aliases }
}

/** Positions of the independent columns that a dependent one is a combination of. */
function partsOf(column: Column, independent: readonly Column[]): number[] {
  const inverse = invert(independent.map((row) => independent.map((other) => dot(row.values, other.values))))
  const right = independent.map((row) => dot(row.values, column.values))
  return inverse.flatMap((row, index) =>
    Math.abs(row.reduce((sum, value, at) => sum + value * right[at]!, 0)) > 1e-8 ? [index] : [],
  )
}

function dot(a: readonly number[], b: readonly number[], weights?: readonly number[]): number {
  return a.reduce((sum, value, index) => sum + value * b[index]! * (weights ? weights[index]! : 1), 0)
}

/** Inverse of a positive definite matrix, scaled to a unit diagonal first, by Gauss–Jordan elimination with pivots. */
function invert(matrix: readonly (readonly number[])[]): number[][] {
  const size = matrix.length
  const scale = matrix.map((row, index) => 1 / Math.sqrt(row[index]!))
  const work = matrix.map((row, i) => [
    ...row.map((value, j) => value * scale[i]! * scale[j]!),
    ...matrix.map((_, j) => (i === j ? 1 : 0)),
  ])
  for (let step = 0; step < size; step++) {
    let pivot = step
    for (let row = step + 1; row < size; row++)
      if (Math.abs(work[row]![step]!) > Math.abs(work[pivot]![step]!)) pivot = row
    const swap = work[step]!
    work[step] = work[pivot]!
    work[pivot] = swap
    const divisor = work[step]![step]!
    work[step] = work[step]!.map((value) => value / divisor)
    for (let row = 0; row < size; row++) {
      if (row === step) continue
      const factor = work[row]![step]!
      if (factor !== 0) work[row] = work[row]!.map((value, column) => value - factor * work[step]![column]!)
    }
  }
  return work.map((row, i) => row.slice(size).map((value, j) => value * scale[i]! * scale[j]!))
}
