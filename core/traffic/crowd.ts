/** Visitors of an experiment whom one network has brought on one day. */
export interface Crowd {
  day: string
  /** What tells the network apart, for a day. */
  network: string
  /** Of each variant, the control first: how many, and what they came to in the primary metric. */
  arms: readonly { visitors: number; sum: number }[]
  /** All visitors of the experiment on that day. */
  ofDay: number
}

/** A household or an office brings fewer; a school or a mobile network brings fewer of a whole day. */
const LEAST_VISITORS = 30
const LEAST_PART = 0.2

export const visitorsOf = ({ arms }: Pick<Crowd, 'arms'>): number =>
  arms.reduce((sum, { visitors }) => sum + visitors, 0)

/** Whether one network brought more of a day than it is likely to. */
export function isCrowd(crowd: Pick<Crowd, 'arms' | 'ofDay'>): boolean {
  const visitors = visitorsOf(crowd)
  return visitors >= LEAST_VISITORS && visitors >= LEAST_PART * crowd.ofDay
}

/** The primary metric of an experiment, as it counts: null where it is a ratio, whose parts are not known by network. */
export interface CountedMetric {
  name: string
  arms: readonly { name: string; visitors: number; sum: number }[]
}

/**
 * A crowd in a sentence, with what the first variant lifts the metric by, with it and without it.
 *
 * @example crowdText(crowd, null) // 'On 2026-11-28 one network brought 300 of 420 visitors.'
 */
export function crowdText(crowd: Crowd, metric: CountedMetric | null): string {
  const count = (number: number) => number.toLocaleString('en-US')
  const brought = `On ${crowd.day} one network brought ${count(visitorsOf(crowd))} of ${count(crowd.ofDay)} visitors.`
  if (!metric) return brought
  const without = metric.arms.map((arm, index) => ({
    ...arm,
    visitors: arm.visitors - (crowd.arms[index]?.visitors ?? 0),
    sum: arm.sum - (crowd.arms[index]?.sum ?? 0),
  }))
  const readings = metric.arms.slice(1).map(({ name }, index) => {
    const [all, others] = [liftOf(metric.arms, index + 1), liftOf(without, index + 1)]
    return `${name} ${inPercent(all)} with them and ${inPercent(others)} without`
  })
  return `${brought} The lift in ${metric.name}: ${readings.join('; ')}.`
}

function liftOf(arms: CountedMetric['arms'], position: number): number | null {
  const mean = ({ visitors, sum }: { visitors: number; sum: number }) => (visitors > 0 ? sum / visitors : NaN)
  const lift = mean(arms[position]!) / mean(arms[0]!) - 1
  return Number.isFinite(lift) ? lift : null
}

function inPercent(lift: number | null): string {
  if (lift === null) return 'is not known'
  const text = Math.abs(lift * 100).toFixed(1)
  return `${text === '0.0' ? '' : lift < 0 ? '−' : '+'}${text} %`
}
