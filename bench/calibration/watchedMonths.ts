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
const CHECKS: readonly WatchCheck[] = ['split', 'visitors', 'variant', 'metric', 'errors']
/** The sums of eight days are kept. */
const KEPT = 8 * 24

/** Four weeks of a sound experiment, in which the variant has a real effect and its days differ. */
function soundExperiment(perHour: number, rate: number): Check {
  return {
    name: `watch: a sound experiment of ${perHour} visits an hour and ${rate * 100} % conversions gives an alarm within four weeks`,
    nominal: 0.01,
    bound: 'at most',
    runs: 400,
    simulate(draws) {
      const visits = visitsByHour(LOOKS, perHour, draws)
      const sums: HourlySums[] = [{ visits: 0, visitors: [0, 0], active: { m: [0, 0] } }]
      let ofDay = 1
      for (const [hour, count] of visits.entries()) {
        if (hour % 24 === 0) ofDay = Math.exp(draws.normal(0, DAYS_DEPART))
        const before = sums.at(-1)!
        const visitors = [0, 1].map((arm) => before.visitors[arm]! + draws.binomial(count, 0.2))
        const active = [0, 1].map(
          (arm) =>
            before.active.m![arm]! +
            draws.binomial(visitors[arm]! - before.visitors[arm]!, Math.min(1, rate * ofDay * (arm ? 1.15 : 1))),
        )
        sums.push({ visits: count, visitors, active: { m: active } })
        const ofLastDay = sums.at(-1)!.visitors.map((each, arm) => each - (sums.at(-25)?.visitors[arm] ?? 0))
        const found = experimentFindings({
          arms: ARMS,
          metrics: [{ id: 'm', name: 'Booked' }],
          visitors,
          sums: sums.slice(-KEPT),
          erring: ofLastDay.map((each) => draws.binomial(each, 0.05)),
        })
        if (found.some(({ check }) => CHECKS.includes(check))) return 1
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
]
