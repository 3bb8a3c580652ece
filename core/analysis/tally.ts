import { VALUES_OF_KIND, type MetricKind } from '../statistics/estimate'
import { addVisitor, firstValues, mergeAll, mergeMoments, noMoments, type Moments } from '../statistics/moments'
import { armShape, type ArmShape, type ThirdSums } from '../statistics/shortfall'
import { fillCovariate } from '../statistics/varianceReduction'
import { winsorizeLimit, type WinsorizeBasis } from '../statistics/winsorize'

/** Which of a visitor's numbers a metric is made of, by their positions. */
export interface TalliedMetric {
  kind: MetricKind
  /** Position of the value, or of numerator and denominator. */
  values: readonly number[]
  /** Position of the covariate; NaN there means the visitor has no past. */
  covariate: number | null
  winsorize: { quantile: number; basis: WinsorizeBasis } | null
}

export interface TallyPlan {
  /** Number of arms. */
  arms: number
  segments: readonly string[]
  metrics: readonly TalliedMetric[]
}

/** What the rows of one metric came to. */
export interface MetricTally {
  arms: Moments[]
  shapes: ArmShape[]
  segments: Record<string, Record<string, Moments[]>>
  cells: { levels: readonly string[]; moments: Moments }[]
  winsorized: { limit: number; visitors: number } | null
}

/** Visitors of one arm, one combination of segment values and one of factor levels. */
interface Group {
  arm: number
  segmentValues: readonly string[]
  levels: readonly string[]
  count: number
  withPast: Moments[]
  withoutPast: Moments[]
  /** Of each metric, over all visitors of the group. */
  thirds: ThirdSums[]
  active: number[]
}

/** Values that wait for the limit to winsorize at, which is known at the end only. */
interface Waiting {
  groups: Uint32Array
  numbers: Float64Array
  size: number
}

/**
 * Sums up visitors row by row into sufficient statistics by arm, segment and cell. Memory does not grow with the
 * visitors, but for metrics that are winsorized, whose values are kept until the limit is known.
 */
export class Tally {
  private readonly groups: Group[] = []
  private readonly byKey = new Map<string, number>()
  private readonly waiting: (Waiting | null)[]
  private readonly scratch: Float64Array[]

  constructor(private readonly plan: TallyPlan) {
    this.waiting = plan.metrics.map((metric) =>
      metric.winsorize
        ? { groups: new Uint32Array(1024), numbers: new Float64Array(1024 * sizeOf(metric)), size: 0 }
        : null,
    )
    this.scratch = plan.metrics.map((metric) => new Float64Array(sizeOf(metric)))
  }

  /**
   * @param arm - position of the visitor's arm
   * @param segmentValues - one for each segment of the plan
   * @param levels - one for each factor
   * @param numbers - the visitor's numbers, of which the metrics know the positions
   */
  add(arm: number, segmentValues: readonly string[], levels: readonly string[], numbers: ArrayLike<number>): void {
    const index = this.groupOf(arm, segmentValues, levels)
    const group = this.groups[index]!
    group.count++
    this.plan.metrics.forEach((metric, position) => {
      const row = this.scratch[position]!
      metric.values.forEach((from, to) => (row[to] = numbers[from]!))
      if (metric.covariate !== null) row[row.length - 1] = numbers[metric.covariate]!
      const waiting = this.waiting[position]
      if (waiting) keep(waiting, index, row)
      else settle(group, position, row)
    })
  }

  /** Number of combinations of arm, segment values and levels met so far. */
  get combinations(): number {
    return this.groups.length
  }

  /** Visitors of each arm. */
  visitors(): number[] {
    return this.arms(
      (group) => group.count,
      (counts) => counts.reduce((sum, count) => sum + count, 0),
    )
  }

  finish(): MetricTally[] {
    const winsorized = this.plan.metrics.map((metric, position) => this.settleWaiting(metric, position))
    return this.plan.metrics.map((metric, position) => ({
      arms: this.filledArms(metric, position, this.groups),
      shapes: this.shapesOf(metric, position),
      segments: Object.fromEntries(
        this.plan.segments.map((segment, at) => [
          segment,
          Object.fromEntries(
            this.valuesOf(at).map((value) => [
              value,
              this.filledArms(
                metric,
                position,
                this.groups.filter((group) => group.segmentValues[at] === value),
              ),
            ]),
          ),
        ]),
      ),
      cells: this.cellsOf(metric, position),
      winsorized: winsorized[position]!,
    }))
  }

  private groupOf(arm: number, segmentValues: readonly string[], levels: readonly string[]): number {
    const key =
      segmentValues.length + levels.length === 0 ? String(arm) : [arm, ...segmentValues, ...levels].join('\u0000')
    const known = this.byKey.get(key)
    if (known !== undefined) return known
    const empty = () => this.plan.metrics.map((metric) => noMoments(sizeOf(metric)))
    const withoutPast = () => this.plan.metrics.map((metric) => noMoments(VALUES_OF_KIND[metric.kind]))
    this.groups.push({
      arm,
      segmentValues: [...segmentValues],
      levels: [...levels],
      count: 0,
      withPast: empty(),
      withoutPast: withoutPast(),
      thirds: this.plan.metrics.map(() => ({ yyy: 0, yyz: 0, yzz: 0, zzz: 0 })),
      active: this.plan.metrics.map(() => 0),
    })
    this.byKey.set(key, this.groups.length - 1)
    return this.groups.length - 1
  }

  private settleWaiting(metric: TalliedMetric, position: number): MetricTally['winsorized'] {
    const waiting = this.waiting[position]
    if (!waiting || !metric.winsorize) return null
    const size = sizeOf(metric)
    const values = Float64Array.from({ length: waiting.size }, (_, row) => waiting.numbers[row * size]!)
    const limit = winsorizeLimit(values, metric.winsorize.quantile, metric.winsorize.basis)
    let visitors = 0
    for (let row = 0; row < waiting.size; row++) {
      const numbers = waiting.numbers.subarray(row * size, (row + 1) * size)
      if (numbers[0]! > limit) {
        numbers[0] = limit
        visitors++
      }
      settle(this.groups[waiting.groups[row]!]!, position, numbers)
    }
    this.waiting[position] = null
    return { limit, visitors }
  }

  private filledArms(metric: TalliedMetric, position: number, groups: readonly Group[]): Moments[] {
    const merge = (part: 'withPast' | 'withoutPast', size: number) =>
      this.arms(
        (group) => group[part][position]!,
        (each) => mergeAll(each, size),
        groups,
      )
    const withPast = merge('withPast', sizeOf(metric))
    return metric.covariate === null
      ? withPast
      : fillCovariate(withPast, merge('withoutPast', VALUES_OF_KIND[metric.kind]))
  }

  private shapesOf(metric: TalliedMetric, position: number): ArmShape[] {
    const size = VALUES_OF_KIND[metric.kind]
    const moments = this.arms(
      (group) => mergeMoments(firstValues(group.withPast[position]!, size), group.withoutPast[position]!),
      (each) => mergeAll(each, size),
    )
    const thirds = this.arms((group) => group.thirds[position]!, sumOfThirds)
    const active = this.arms(
      (group) => group.active[position]!,
      (counts) => counts.reduce((sum, count) => sum + count, 0),
    )
    return moments.map((arm, index) => armShape(metric.kind, arm, active[index]!, thirds[index]!))
  }

  private cellsOf(metric: TalliedMetric, position: number): MetricTally['cells'] {
    const cells = new Map<string, MetricTally['cells'][number]>()
    const size = VALUES_OF_KIND[metric.kind]
    for (const group of this.groups) {
      if (group.levels.length === 0) continue
      const key = group.levels.join('\u0000')
      const own = mergeMoments(firstValues(group.withPast[position]!, size), group.withoutPast[position]!)
      const known = cells.get(key)
      cells.set(key, { levels: group.levels, moments: known ? mergeMoments(known.moments, own) : own })
    }
    return [...cells.values()]
  }

  private valuesOf(segment: number): string[] {
    return [...new Set(this.groups.map((group) => group.segmentValues[segment]!))].sort()
  }

  private arms<Part, Whole>(
    part: (group: Group) => Part,
    whole: (parts: Part[]) => Whole,
    groups: readonly Group[] = this.groups,
  ): Whole[] {
    return Array.from({ length: this.plan.arms }, (_, arm) =>
      whole(groups.filter((group) => group.arm === arm).map(part)),
    )
  }
}

function sizeOf(metric: TalliedMetric): number {
  return VALUES_OF_KIND[metric.kind] + (metric.covariate === null ? 0 : 1)
}

function settle(group: Group, position: number, row: Float64Array): void {
  // NaN in the last place is a covariate that the visitor lacks; addVisitor looks at no more than its moments hold.
  const part = Number.isNaN(row[row.length - 1]!) ? group.withoutPast : group.withPast
  addVisitor(part[position]!, row)
  const [y = 0, z = 0] = row
  if (y !== 0) group.active[position]!++
  const thirds = group.thirds[position]!
  thirds.yyy += y * y * y
  thirds.yyz += y * y * z
  thirds.yzz += y * z * z
  thirds.zzz += z * z * z
}

function sumOfThirds(all: readonly ThirdSums[]): ThirdSums {
  const sum: ThirdSums = { yyy: 0, yyz: 0, yzz: 0, zzz: 0 }
  for (const each of all) for (const name of Object.keys(sum) as (keyof ThirdSums)[]) sum[name] += each[name]
  return sum
}

function keep(waiting: Waiting, group: number, row: Float64Array): void {
  if (waiting.size === waiting.groups.length) {
    waiting.groups = grown(waiting.groups, new Uint32Array(waiting.groups.length * 2))
    waiting.numbers = grown(waiting.numbers, new Float64Array(waiting.numbers.length * 2))
  }
  waiting.groups[waiting.size] = group
  waiting.numbers.set(row, waiting.size * row.length)
  waiting.size++
}

function grown<Numbers extends Uint32Array | Float64Array>(from: Numbers, to: Numbers): Numbers {
  to.set(from)
  return to
}
