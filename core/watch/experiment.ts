import { checkAllocationByPeriod } from '../allocation/allocationByPeriod'
import { ALLOCATION_ALARM, checkAllocation } from '../statistics/allocation'
import { probabilityOfAtLeast, probabilityOfAtMost, shareOfAtLeast } from '../statistics/countTails'
import { fewVisitors, LEAST_KNOWN, NEARLY_NOTHING, SPREAD } from './fewVisitors'
import { hours, WATCH_LEVEL, whole, WINDOWS, type WatchFinding } from './finding'
import { parted, total, type HourlySums } from './hourlySums'

export interface WatchedExperiment {
  arms: readonly { name: string; weight: number }[]
  metrics: readonly { id: string; name: string }[]
  /** Visitors of each arm by now, the control first. */
  visitors: readonly number[]
  /** Of a split that moves, visitors of each arm by the shares that they were drawn by. */
  periods?: readonly { visitors: readonly number[]; shares: readonly number[] }[]
  /** By hour in their order, without gaps, of those that are over. */
  sums: readonly HourlySums[]
  /** Of each arm, visitors of the last day whose page had a script error after they were exposed. */
  erring: readonly number[]
}

/** Changes show late that show after so many ms from the opening of the page. */
export const SHOWN_LATE = 2000

const DAY = 24
/** A change of a metric in all arms that is no matter of weekdays; days depart from each other by so much anyway. */
const MOVED = 1.8
const SPREAD_OF_DAYS = 0.15
const LEAST_DAYS = 3
/** What says what is usual: as many visitors with something. */
const LEAST_ACTIVE = 20
const LEAST_ERRING = 10
const LEAST_LATE = 20
/** So many times as many as usual, or as in the control, are many more. */
const MANY_MORE = 2
const MANY_MORE_THAN_CONTROL = 1.5
/** How far the share of those to whom changes show late departs by itself: by days and by who comes. */
const SPREAD_OF_LATE = 0.25

/**
 * What is wrong with a running experiment, by its own counts. Each check by itself calls off a sound experiment in far
 * less than one of a hundred months; see docs/watch.md.
 */
export function experimentFindings(experiment: WatchedExperiment): WatchFinding[] {
  return [
    ...splitFindings(experiment),
    ...visitorFindings(experiment),
    ...variantFindings(experiment),
    ...metricFindings(experiment),
    ...silentArmFindings(experiment),
    ...errorFindings(experiment),
    ...lateFindings(experiment),
  ]
}

function splitFindings({ arms, visitors, periods }: WatchedExperiment): WatchFinding[] {
  const weights = arms.map(({ weight }) => weight)
  // Where nobody is held back there is no split.
  if (visitors.length < 2 || weights.includes(0)) return []
  const { sequentialPValue } = periods ? checkAllocationByPeriod(periods) : checkAllocation(visitors, weights)
  if (sequentialPValue >= ALLOCATION_ALARM) return []
  const came = arms.map(({ name }, arm) => `${name} ${whole(visitors[arm]!)}`).join(', ')
  return [{ check: 'split', cause: 'split', text: `The split is not as it was set: ${came}.` }]
}

function visitorFindings({ sums }: WatchedExperiment): WatchFinding[] {
  const few = fewVisitors(sums)
  if (!few) return []
  const { count, window, usual } = few
  const text = `${whole(count)} new visitor${count === 1 ? '' : 's'} saw it in the last ${hours(window)}; by the visits of the site about ${whole(usual)} would be usual.`
  return [{ check: 'visitors', cause: 'few', text }]
}

/** An arm that nobody comes to any more, while visitors come to the others. */
function variantFindings({ arms, sums }: WatchedExperiment): WatchFinding[] {
  const { within } = parted(sums, DAY, false)
  if (!within) return []
  const all = arms.reduce((sum, { weight }) => sum + weight, 0)
  const others = total(within.visitors)
  return arms.flatMap(({ name, weight }, arm) => {
    if (within.visitors[arm]! > 0 || others === 0 || (1 - weight / all) ** others >= WATCH_LEVEL) return []
    const text = `Nobody new saw “${name}” in the last day; ${whole(others)} visitors saw the others.`
    return [{ check: 'variant', cause: String(arm), text }]
  })
}

/**
 * Hardly anything of a metric is counted in one arm, while the others have it: what it is counted by is broken there. It is
 * held against half of what the others have, so that no effect that anybody would wait for is taken for it.
 */
function silentArmFindings({ arms, metrics, sums }: WatchedExperiment): WatchFinding[] {
  const { within } = parted(sums, DAY, false)
  if (!within) return []
  return metrics.flatMap(({ id, name }) =>
    arms.flatMap((arm, position) => {
      const [visitors, count] = [within.visitors[position]!, within.active[id]?.[position] ?? 0]
      const others = total(within.active[id]) - count
      const ofOthers = total(within.visitors) - visitors
      const rate = others / ofOthers
      if (ofOthers === 0 || others < LEAST_ACTIVE || count >= NEARLY_NOTHING * rate * visitors) return []
      if (1 - shareOfAtLeast(count + 1, visitors, rate / 2) >= WATCH_LEVEL) return []
      const text = `“${name}” counted ${whole(count)} visitor${count === 1 ? '' : 's'} of “${arm.name}” in the last day; by the others about ${whole(rate * visitors)} would be usual.`
      return [{ check: 'metric' as const, cause: `${id} ${position}`, text }]
    }),
  )
}

function metricFindings(experiment: WatchedExperiment): WatchFinding[] {
  return experiment.metrics.flatMap(
    (metric) => silentMetric(experiment, metric) ?? movedMetric(experiment, metric) ?? [],
  )
}

/** Nothing is counted any more, though visitors come. */
function silentMetric({ sums }: WatchedExperiment, { id, name }: { id: string; name: string }): WatchFinding | null {
  for (const window of WINDOWS) {
    const { before, within } = parted(sums, window)
    if (!before || !within || total(before.active[id]) < LEAST_ACTIVE || total(before.visitors) === 0) continue
    const mean = (total(within.visitors) * total(before.active[id])) / total(before.visitors)
    const count = total(within.active[id])
    if (count >= NEARLY_NOTHING * mean || probabilityOfAtMost(count, { mean, spread: SPREAD }) >= WATCH_LEVEL) continue
    const text = `“${name}” counted ${whole(count)} visitor${count === 1 ? '' : 's'} in the last ${hours(window)}; about ${whole(mean)} would be usual.`
    return { check: 'metric', cause: id, text }
  }
  return null
}

/** All arms at once, in the same direction: a counter that broke, not an effect. */
function movedMetric(
  { arms, sums }: WatchedExperiment,
  { id, name }: { id: string; name: string },
): WatchFinding | null {
  const { before, within } = parted(sums, DAY)
  const days = (sums.length - 1) / DAY - 1
  if (!before || !within || days < LEAST_DAYS || total(before.active[id]) < LEAST_ACTIVE) return null
  const changes = arms.map((_, arm) => {
    const usual = (before.active[id]?.[arm] ?? 0) / before.visitors[arm]!
    return (within.active[id]?.[arm] ?? 0) / within.visitors[arm]! / usual
  })
  const isUp = changes.every((change) => change > MOVED)
  if (!isUp && !changes.every((change) => change < 1 / MOVED)) return null
  const count = total(within.active[id])
  const mean = (total(within.visitors) * total(before.active[id])) / total(before.visitors)
  // What is usual is known from a few days only, each of which has its own.
  const expected = { mean, spread: SPREAD_OF_DAYS * Math.sqrt(1 + 1 / days) }
  const chance = isUp ? probabilityOfAtLeast(count, expected) : probabilityOfAtMost(count, expected)
  if (!(chance < WATCH_LEVEL)) return null
  const text = `“${name}” moved in all variants at once: ${whole(count)} visitors in the last day, about ${whole(expected.mean)} would be usual.`
  return { check: 'metric', cause: id, text: `${text} That is rather its counting than an effect.` }
}

/** Scripts fail for visitors of a variant more often than for those of the control. */
function errorFindings({ arms, visitors, erring }: WatchedExperiment): WatchFinding[] {
  return arms.slice(1).flatMap(({ name }, index) => {
    const [count, ofControl] = [erring[index + 1] ?? 0, erring[0] ?? 0]
    const share = visitors[index + 1]! / (visitors[index + 1]! + visitors[0]!)
    if (count < LEAST_ERRING || !(shareOfAtLeast(count, count + ofControl, share) < WATCH_LEVEL)) return []
    const text = `Scripts failed for ${whole(count)} visitors of “${name}” in the last day, and for ${whole(ofControl)} of the control.`
    return [{ check: 'errors', cause: String(index + 1), text }]
  })
}

/** Changes show late more often than before, or in a variant more often than in the control. */
function lateFindings({ arms, sums }: WatchedExperiment): WatchFinding[] {
  const { before, within } = parted(sums, DAY, false)
  if (!within) return []
  const count = total(within.late)
  const usual =
    before && total(before.timed) >= LEAST_KNOWN ? (total(before.late) + 1) / (total(before.timed) + 1) : null
  const mean = usual === null ? null : total(within.timed) * usual
  if (mean !== null && count >= LEAST_LATE && count > MANY_MORE * mean) {
    const text = `Changes showed after more than ${SHOWN_LATE / 1000} s to ${whole(count)} visitors in the last day; about ${whole(mean)} would be usual.`
    if (probabilityOfAtLeast(count, { mean, spread: SPREAD_OF_LATE }) < WATCH_LEVEL)
      return [{ check: 'late', cause: 'all', text }]
  }
  return arms.slice(1).flatMap(({ name }, index) => {
    const [late, ofControl] = [within.late[index + 1] ?? 0, within.late[0] ?? 0]
    const [timed, timedOfControl] = [within.timed[index + 1] ?? 0, within.timed[0] ?? 0]
    if (late < LEAST_LATE || late * timedOfControl <= MANY_MORE_THAN_CONTROL * ofControl * timed) return []
    // Half as many again would be no accident either.
    const share = (MANY_MORE_THAN_CONTROL * timed) / (MANY_MORE_THAN_CONTROL * timed + timedOfControl)
    if (!(shareOfAtLeast(late, late + ofControl, share) < WATCH_LEVEL)) return []
    const text = `“${name}” showed late to ${whole(late)} of ${whole(timed)} visitors in the last day. The control did to ${whole(ofControl)} of ${whole(timedOfControl)}. Late is after more than ${SHOWN_LATE / 1000} s.`
    return [{ check: 'late' as const, cause: String(index + 1), text }]
  })
}
