/** What visitors of a crowd have in common. */
export const CROWD_KINDS = ['network', 'minute', 'browser', 'first view'] as const
export type CrowdKind = (typeof CROWD_KINDS)[number]

/** Which visitors of an experiment a crowd is. */
export interface CrowdPlace {
  /** Of their first exposure, in the site's time zone. */
  day: string
  kind: CrowdKind
  /** The network's hash of the day, the minute as 14:05, the browser with its version, or nothing. */
  value: string
}

/** Visitors of an experiment who were first exposed on one day, and have more in common than is likely. */
export interface Crowd extends CrowdPlace {
  /** Of each variant, the control first: how many, and what they came to in the primary metric. */
  arms: readonly { visitors: number; sum: number }[]
  /** All visitors of the experiment on that day. */
  ofDay: number
  /** What part of visitors is usually like that, from 0 to 1. */
  usual: number
}

/** A household or an office brings fewer; a school or a mobile network brings fewer of a whole day. */
const LEAST_VISITORS = 30
const LEAST_PART = 0.2
/** How many times the usual odds are odd: a new version of a browser doubles within a day, and does not become four times as many. */
const LEAST_ODDS_RATIO = 4

export const visitorsOf = ({ arms }: Pick<Crowd, 'arms'>): number =>
  arms.reduce((sum, { visitors }) => sum + visitors, 0)

/** Whether visitors with something in common are more of a day than is likely. */
export function isCrowd(crowd: Pick<Crowd, 'arms' | 'ofDay' | 'usual'>): boolean {
  const { ofDay, usual } = crowd
  const visitors = visitorsOf(crowd)
  const isLarge = visitors >= LEAST_VISITORS && visitors >= LEAST_PART * ofDay
  // Odds in place of shares: four times 30 % is more than everybody.
  const isUnusual = usual < 1 && visitors * (1 - usual) >= LEAST_ODDS_RATIO * usual * (ofDay - visitors)
  return isLarge && isUnusual
}

/** The primary metric of an experiment, as it counts: null where it is a ratio, whose parts are not known by crowd. */
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
  const brought = crowdInWords(crowd)
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

function crowdInWords(crowd: Crowd): string {
  const { day, kind, value, ofDay, usual } = crowd
  const count = (number: number) => number.toLocaleString('en-US')
  const visitors = `${count(visitorsOf(crowd))} of ${count(ofDay)} visitors`
  const usually = `Usually it is ${(usual * 100).toFixed(usual < 0.1 ? 1 : 0)} %.`
  switch (kind) {
    case 'network':
      return `On ${day} one network brought ${visitors}.`
    case 'minute':
      return `On ${day} ${visitors} came within one minute, at ${value}.`
    case 'browser':
      return `On ${day} ${visitors} came with ${value}. ${usually}`
    case 'first view':
      return `On ${day} ${visitors} saw the experiment on the first page they ever opened. ${usually}`
  }
}

/** Whom a crowd is of, in a few words. */
export function crowdName({ day, kind, value }: CrowdPlace): string {
  const words: Record<CrowdKind, string> = {
    network: 'from one network',
    minute: `who came at ${value}`,
    browser: `with ${value}`,
    'first view': 'who saw the experiment on their first page',
  }
  return `Visitors of ${day} ${words[kind]}`
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
