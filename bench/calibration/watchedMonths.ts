import type { Draws } from '../../core/random/draws'
import { experimentFindings } from '../../core/watch/experiment'
import type { HourlySums } from '../../core/watch/hourlySums'
import { siteFindings, type Arrivals } from '../../core/watch/site'
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
  /** Visitors to whom changes showed late. */
  late: number[]
  /** Share of each arm's visitors whose page has a script error. */
  erring: number[]
}

/** Hour by hour what came, and at each hour what the watch finds. Days differ, and the variant has a real effect. */
function* watchedRun(perHour: number, rate: number, draws: Draws, change: (hour: number, came: Hour) => Hour) {
  const sums: HourlySums[] = [{ visits: 0, visitors: [0, 0], timed: [0, 0], late: [0, 0], active: { m: [0, 0] } }]
  let ofDay = 1
  for (const [hour, visits] of visitsByHour(LOOKS, perHour, draws).entries()) {
    if (hour % 24 === 0) ofDay = Math.exp(draws.normal(0, DAYS_DEPART))
    const visitors = [0, 1].map(() => draws.binomial(visits, 0.2))
    const active = visitors.map((count, arm) => draws.binomial(count, Math.min(1, rate * ofDay * (arm ? 1.15 : 1))))
    const late = visitors.map((count) => draws.binomial(count, Math.min(1, 0.1 * ofDay)))
    const came = change(hour, { visits, visitors, active, late, erring: [0.05, 0.05] })
    const before = sums.at(-1)!
    sums.push({
      visits: came.visits,
      visitors: came.visitors.map((count, arm) => before.visitors[arm]! + count),
      timed: came.visitors.map((count, arm) => before.timed[arm]! + count),
      late: came.late.map((count, arm) => before.late[arm]! + count),
      active: { m: came.active.map((count, arm) => before.active.m![arm]! + count) },
    })
    const ofLastDay = sums.at(-1)!.visitors.map((each, arm) => each - (sums.at(-25)?.visitors[arm] ?? 0))
    yield experimentFindings({
      arms: ARMS,
      metrics: [{ id: 'm', name: 'Booked' }],
      visitors: sums.at(-1)!.visitors,
      sums: sums.slice(-KEPT),
      erring: ofLastDay.map((each, arm) => draws.binomial(each, came.erring[arm]!)),
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

/** A site whose visits are so many times what they were, from some hour on. */
function noticedVisits(fault: string, times: number, within: number): Check {
  return {
    name: `watch: ${fault}, with 300 visits an hour, is noticed within ${within} hours`,
    nominal: 0.95,
    bound: 'at least',
    runs: 200,
    simulate(draws) {
      const from = KNOWN_BEFORE + draws.binomial(48, 0.5)
      const visits = visitsByHour(from + within, 300, draws)
      for (let end = from + 1; end <= from + within; end++) {
        const broken = visits.slice(0, end).map((count, hour) => (hour >= from ? Math.round(times * count) : count))
        if (trafficFindings(broken.slice(-KNOWN_BEFORE)).length > 0) return 1
      }
      return 0
    },
  }
}

/** Events that intake refuses, of a share that rises at some hour of a day. */
function noticedRefusals(share: number, within: number): Check {
  const usual = 0.005
  return {
    name: `watch: ${share * 100} % of the events refused in place of ${usual * 100} %, with 300 an hour, are noticed within ${within} hours`,
    nominal: 0.95,
    bound: 'at least',
    runs: 200,
    simulate(draws) {
      const week = 7 * 24 * 300
      const refusedBefore = draws.binomial(week, usual)
      const from = draws.binomial(12, 0.5)
      const today = { refused: draws.binomial(from * 300 + 1, usual), taken: from * 300 }
      for (let hour = 0; hour < within; hour++) {
        const refused = draws.binomial(300, share)
        today.refused += refused
        today.taken += 300 - refused
        const found = siteFindings({
          visits: [],
          delay: 0,
          refused: { today: today.refused, before: refusedBefore },
          taken: { today: today.taken, before: week - refusedBefore },
          arrivals: { lately: NOTHING, before: NOTHING },
          disk: null,
        })
        if (found.length > 0) return 1
      }
      return 0
    },
  }
}

/**
 * Views that come late because their browser could not reach Vetch: by visitors, of whom some send all of a visit late.
 *
 * @param share - of the visitors, from some hour on
 */
function lateArrivals(share: number, hours: number, draws: Draws): boolean {
  const usual = 0.01
  const perHour = 300
  const ofHour = (late: number) => {
    const views = 6
    return { late: views * draws.binomial(perHour / views, late), all: perHour }
  }
  const came = Array.from({ length: 8 * 24 }, () => ofHour(usual))
  const sumOf = (some: readonly Arrivals[]): Arrivals => ({
    late: some.reduce((sum, { late }) => sum + late, 0),
    all: some.reduce((sum, { all }) => sum + all, 0),
  })
  for (let hour = 0; hour < hours; hour++) {
    came.push(ofHour(share))
    const found = siteFindings({
      visits: [],
      delay: 0,
      refused: { today: 0, before: 0 },
      taken: { today: 0, before: 0 },
      arrivals: { lately: sumOf(came.slice(-24)), before: sumOf(came.slice(-8 * 24, -24)) },
      disk: null,
    })
    if (found.length > 0) return true
  }
  return false
}

const NOTHING: Arrivals = { late: 0, all: 0 }

const part = (counts: readonly number[], share: number) => counts.map((count) => Math.round(share * count))

/** How often the watch calls off what is sound. */
export const WATCHED_MONTHS: readonly Check[] = [
  ...[3, 30, 600].map(quietSite),
  ...[10, 100, 1000].map((perHour) => soundExperiment(perHour, 0.1)),
  soundExperiment(300, 0.02),
  noticedVisits('a site without visits', 0, 12),
  noticedVisits('a site with a fifth of its visits', 0.2, 24),
  noticedVisits('a site with four times its visits', 4, 24),
  noticedRefusals(0.1, 12),
  {
    name: 'watch: a site of 300 views an hour, whose visitors send 1 % of their visits late, gives an alarm within four weeks',
    nominal: 0.01,
    bound: 'at most',
    runs: 400,
    simulate: (draws) => Number(lateArrivals(0.01, LOOKS, draws)),
  },
  {
    name: 'watch: 15 % of the visits sent late in place of 1 %, with 300 views an hour, are noticed within 12 hours',
    nominal: 0.95,
    bound: 'at least',
    runs: 200,
    simulate: (draws) => Number(lateArrivals(0.15, 12, draws)),
  },
  noticedFault('a page that lost the script line', 'visitors', 12, () => ({ visitors: [0, 0], active: [0, 0] })),
  noticedFault('a line on one page in ten', 'visitors', 24, ({ visitors, active }) => ({
    visitors: part(visitors, 0.1),
    active: part(active, 0.1),
  })),
  noticedFault('a variant that nobody reaches', 'variant', 25, ({ visitors, active }) => ({
    visitors: [visitors[0]!, 0],
    active: [active[0]!, 0],
  })),
  noticedFault('a control that nobody reaches', 'variant', 25, ({ visitors, active }) => ({
    visitors: [0, visitors[1]!],
    active: [0, active[1]!],
  })),
  noticedFault('a variant that loses a third', 'split', 96, ({ visitors }) => ({
    visitors: [visitors[0]!, Math.round(visitors[1]! * (2 / 3))],
  })),
  noticedFault('a variant that loses a tenth', 'split', 336, ({ visitors }) => ({
    visitors: [visitors[0]!, Math.round(visitors[1]! * 0.9)],
  })),
  noticedFault('a split of 40 to 60', 'split', 96, ({ visitors }) => ({
    visitors: [Math.round(visitors[0]! * 0.8), Math.round(visitors[1]! * 1.2)],
  })),
  noticedFault('a metric that counts nothing', 'metric', 12, () => ({ active: [0, 0] })),
  noticedFault('a metric that counts one in ten', 'metric', 25, ({ active }) => ({ active: part(active, 0.1) })),
  noticedFault('a metric that counts three times as many', 'metric', 25, ({ active }) => ({ active: part(active, 3) })),
  noticedFault('a metric that counts two and a half times as many', 'metric', 49, ({ active }) => ({
    active: part(active, 2.5),
  })),
  noticedFault('a variant whose events are lost', 'metric', 25, ({ active }) => ({ active: [active[0]!, 0] })),
  noticedFault('a control whose events are lost', 'metric', 25, ({ active }) => ({ active: [0, active[1]!] })),
  noticedFault('a variant of whose events one in twenty arrives', 'metric', 25, ({ active }) => ({
    active: [active[0]!, Math.round(0.05 * active[1]!)],
  })),
  noticedFault('changes that show late to a third of the visitors in place of a tenth', 'late', 25, ({ visitors }) => ({
    late: part(visitors, 1 / 3),
  })),
  noticedFault('a variant that shows late to a third of its visitors', 'late', 49, ({ visitors, late }) => ({
    late: [late[0]!, Math.round(visitors[1]! / 3)],
  })),
  noticedFault('scripts that fail for every tenth visitor of a variant', 'errors', 25, () => ({ erring: [0.05, 0.1] })),
]
