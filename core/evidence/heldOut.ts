import type { MetricDefinition } from '../measurement/metric'
import { VALUES_OF_KIND } from '../statistics/estimate'
import { addVisitor, noMoments, type Moments } from '../statistics/moments'
import type { ThirdSums } from '../statistics/shortfall'
import { DAY } from '../time/units'
import { countedAmounts, countedSteps } from './countedSteps'
import { eachSession } from './sessionRuns'
import type { Visits } from './visits'

/** What a part of the visitors came to in one metric. */
export interface PartTally {
  moments: Moments
  /** Visitors whose value is not zero. */
  active: number
  thirds: ThirdSums
}

/** Visitors of a holdout and all others, in this order: what came of keeping things from the former. */
export interface HeldOutTally {
  visitors: [heldOut: number, others: number]
  /** In the order of the metrics that were asked for. */
  metrics: [heldOut: PartTally, others: PartTally][]
}

/**
 * What visitors did in some sessions, those who are held out beside all others. Everybody who came is in it, whether or
 * not they met anything that was kept from the others: so both parts are alike but for that.
 *
 * @param selected - 1 for each session that is looked at (`selectSessions`)
 * @param isHeldOut - of a visitor's id
 * @param metrics - what is measured; with an observation window, visitors count once theirs is over
 * @param until - end of what is looked at, in ms since 1970
 */
export function tallyHeldOut(
  visits: Visits,
  selected: Uint8Array,
  isHeldOut: (visitorId: string) => boolean,
  metrics: readonly MetricDefinition[],
  until: number,
): HeldOutTally {
  const counters = metrics.map((metric) => new MetricCounter(visits, metric, until))
  const visitors: HeldOutTally['visitors'] = [0, 0]
  let visitor = -1
  function closeVisitor(): void {
    if (visitor < 0) return
    const part = isHeldOut(visits.visitorIds[visitor]!) ? 0 : 1
    visitors[part]++
    for (const counter of counters) counter.close(part)
  }
  eachSession(visits, selected, (block, first, end, session) => {
    if (block.visitor[first] !== visitor) {
      closeVisitor()
      visitor = block.visitor[first]!
      for (const counter of counters) counter.begin(visits.sessionStart.values[session]!)
    }
    for (const counter of counters) counter.add(block, first, end)
  })
  closeVisitor()
  return { visitors, metrics: counters.map(({ parts }) => parts) }
}

/** One metric of one visitor after the other. */
class MetricCounter {
  readonly parts: [PartTally, PartTally]
  private value = 0
  private denominator = 0
  private lastMoment = Infinity
  private readonly isCounted
  private readonly amountOf
  private readonly isOther
  private readonly otherAmountOf

  constructor(
    visits: Visits,
    private readonly metric: MetricDefinition,
    private readonly until: number,
  ) {
    const part = (): PartTally => ({
      moments: noMoments(VALUES_OF_KIND[metric.kind]),
      active: 0,
      thirds: { yyy: 0, yyz: 0, yzz: 0, zzz: 0 },
    })
    this.parts = [part(), part()]
    this.isCounted = countedSteps(visits, metric.source)
    this.amountOf = countedAmounts(metric.source)
    this.isOther = metric.kind === 'ratio' && metric.denominator ? countedSteps(visits, metric.denominator) : null
    this.otherAmountOf = metric.denominator ? countedAmounts(metric.denominator) : null
  }

  begin(at: number): void {
    const { windowDays = null } = this.metric
    this.value = this.denominator = 0
    this.lastMoment = windowDays === null ? Infinity : at + windowDays * DAY
  }

  add(block: Parameters<typeof this.isCounted>[0], first: number, end: number): void {
    const isOnce = this.metric.kind === 'conversion'
    for (let row = first; row < end; row++) {
      if (block.at[row]! > this.lastMoment) return
      if (this.isOther?.(block, row)) this.denominator += this.otherAmountOf!(block, row)
      if (!this.isCounted(block, row)) continue
      this.value = isOnce ? 1 : this.value + this.amountOf(block, row)
    }
  }

  close(part: 0 | 1): void {
    // Everybody had the same time.
    if (Number.isFinite(this.lastMoment) && this.lastMoment > this.until) return
    const { cap = null, kind } = this.metric
    const y = cap === null || kind === 'conversion' ? this.value : Math.min(this.value, cap)
    const z = this.denominator
    const { moments, thirds } = this.parts[part]
    addVisitor(moments, [y, z])
    if (y !== 0) this.parts[part].active++
    thirds.yyy += y ** 3
    thirds.yyz += y * y * z
    thirds.yzz += y * z * z
    thirds.zzz += z ** 3
  }
}
