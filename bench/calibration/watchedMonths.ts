import type { Draws } from '../../core/random/draws'
import { experimentFindings, type HourlySums } from '../../core/watch/experiment'
import { trafficFindings } from '../../core/watch/traffic'
import type { WatchCheck } from '../../core/watch/finding'
import type { Check } from './checks'

/** Four weeks with a look every hour, after what is needed to know what is usual. */
const LOOKS = 28 * 24
const KNOWN_BEFORE = 5 * 168
/** How far days depart from what their weekday brings, beside chance. */
const DAYS_DEPART = 0.15

/** Visits by hour with a rhythm of the day and the week, and days that are better or worse than others. */
function visitsByHour(hours: number, perHour: number, draws: Draws): number[] {
  let ofDay = 1
  return Array.from({ length: hours }, (_, hour) => {
    if (hour % 24 === 0) ofDay = Math.exp(draws.normal(0, DAYS_DEPART))
    const day = 1 + 0.9 * Math.sin(((hour % 24) - 9) / 3.82)
    const week = Math.floor(hour / 24) % 7 < 5 ? 1 : 0.7
    const mean = perHour * ofDay * week * Math.max(0.03, day)
    // Half of all visits or more: the binomial distribution of many is near enough to Poisson's.
    return draws.binomial(Math.ceil(mean * 20), mean / Math.ceil(mean * 20))
  })
}

function quietSite(perHour: number): Check {
  return {
    name: `watch: a sound site with ${perHour} visits an hour gives an alarm within four weeks`,
    nominal: 0.01,
    bound: 'at most',
    runs: 400,
    simulate(draws) {
      const visits = visitsByHour(KNOWN_BEFORE + LOOKS, perHour, draws)
      for (let look = 0; look < LOOKS; look++)
        if (trafficFindings(visits.slice(look, KNOWN_BEFORE + look)).length > 0) return 1
      return 0
    },
  }
}

const ARMS = [
  { name: 'Control', weight: 1 },
  { name: 'B', weight: 1 },
]
/** The sums of eight days are kept. */
const KEPT = 8 * 24

/** What comes in an hour, by arm. */
interface Hour {
  visits: number
  visitors: number[]
  active: number[]
}

/** Hour by hour what came, and at each hour what the watch finds. Days differ, and the variant has a real effect. */
function* watchedRun(perHour: number, rate: number, draws: Draws, change: (hour: number, came: Hour) => Hour) {
  const sums: HourlySums[] = [{ visits: 0, visitors: [0, 0], active: { m: [0, 0] } }]
  let ofDay = 1
  for (const [hour, visits] of visitsByHour(LOOKS, perHour, draws).entries()) {
    if (hour % 24 === 0) ofDay = Math.exp(draws.normal(0, DAYS_DEPART))
    const visitors = [0, 1].map(() => draws.binomial(visits, 0.2))
    const active = visitors.map((count, arm) => draws.binomial(count, Math.min(1, rate * ofDay * (arm ? 1.15 : 1))))
    const came = change(hour, { visits, visitors, active })
    const before = sums.at(-1)!
    sums.push({
      visits: came.visits,
      visitors: came.visitors.map((count, arm) => before.visitors[arm]! + count),
      active: { m: came.active.map((count, arm) => before.active.m![arm]! + count) },
    })
    const ofLastDay = sums.at(-1)!.visitors.map((each, arm) => each - (sums.at(-25)?.visitors[arm] ?? 0))
    yield experimentFindings({
      arms: ARMS,
      metrics: [{ id: 'm', name: 'Booked' }],
      visitors: sums.at(-1)!.visitors,
      sums: sums.slice(-KEPT),
      erring: ofLastDay.map((each) => draws.binomial(each, 0.05)),
    }).map(({ check }) => check)
  }
}

function soundExperiment(perHour: number, rate: number): Check {
  return {
    name: `watch: a sound experiment of ${perHour} visits an hour and ${rate * 100} % conversions gives an alarm within four weeks`,
    nominal: 0.01,
    bound: 'at most',
    runs: 400,
    simulate(draws) {
      for (const found of watchedRun(perHour, rate, draws, (_, came) => came)) if (found.length > 0) return 1
      return 0
    },
  }
}

/** From an hour of the second week on something is broken: how often is it noticed in time? */
function noticedFault(fault: string, check: WatchCheck, within: number, change: (came: Hour) => Partial<Hour>): Check {
  return {
    name: `watch: ${fault}, with 300 visits an hour and 10 % conversions, is noticed within ${within} hours`,
    nominal: 0.95,
    bound: 'at least',
    runs: 200,
    simulate(draws) {
      const from = 240 + draws.binomial(48, 0.5)
      const run = watchedRun(300, 0.1, draws, (hour, came) => (hour >= from ? { ...came, ...change(came) } : came))
      let hour = -1
      for (const found of run) {
        hour += 1
        if (hour >= from && found.includes(check)) return 1
        if (hour >= from + within) return 0
      }
      return 0
    },
  }
}

/** A site of which only a part of the visits comes from some hour on. */
function noticedQuiet(part: number, within: number): Check {
  return {
    name: `watch: a site of 300 visits an hour that brings ${part * 100} % of them is noticed within ${within} hours`,
    nominal: 0.95,
    bound: 'at least',
    runs: 200,
    simulate(draws) {
      const from = KNOWN_BEFORE + draws.binomial(48, 0.5)
      const visits = visitsByHour(from + within, 300, draws)
      for (let end = from + 1; end <= from + within; end++) {
        const broken = visits.slice(0, end).map((count, hour) => (hour >= from ? Math.round(part * count) : count))
        if (trafficFindings(broken.slice(-KNOWN_BEFORE)).length > 0) return 1
      }
      return 0
    },
  }
}

/** How often the watch calls off what is sound. */
export const WATCHED_MONTHS: readonly Check[] = [
  ...[3, 30, 600].map(quietSite),
  ...[10, 100, 1000].map((perHour) => soundExperiment(perHour, 0.1)),
  soundExperiment(300, 0.02),
  noticedQuiet(0, 12),
  noticedQuiet(0.2, 24),
  noticedFault('a page that lost the script line', 'visitors', 12, () => ({ visitors: [0, 0], active: [0, 0] })),
  noticedFault('a variant that nobody reaches', 'variant', 25, ({ visitors }) => ({ visitors: [visitors[0]!, 0] })),
  noticedFault('a variant that loses a third', 'split', 96, ({ visitors }) => ({
    visitors: [visitors[0]!, Math.round(visitors[1]! * (2 / 3))],
  })),
  noticedFault('a metric that counts nothing', 'metric', 12, () => ({ active: [0, 0] })),
  noticedFault('a metric that counts three times as many', 'metric', 25, ({ active }) => ({
    active: active.map((count) => 3 * count),
  })),
]
