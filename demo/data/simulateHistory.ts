import { isInTest } from '../../core/assignment/assignment'
import { variantByBuckets, type GroupPlace } from '../../core/targeting/whyNot'
import { timeOrderedId } from '../../core/identity/timeOrderedId'
import { murmurHash3 } from '../../core/assignment/murmurHash3'
import { holds, type Group } from '../../core/targeting/condition'
import { matchesPage } from '../../core/targeting/pageRule'
import type { SiteFileBehavior, SiteFileExperiment } from '../../shared/delivery/siteFile'
import type { CollectedEvent, CollectedView } from '../../shared/intake/collect'
import type { DeliveredSurvey } from '../../shared/surveys/survey'
import { arrivalTimes } from '../visitors/calendar'
import { surveyOn } from '../visitors/surveyed'
import { behaviorOn } from '../visitors/behavior'
import { collectedPage } from '../visitors/collected'
import type { Met } from '../visitors/journey'
import type { Population } from '../visitors/population'
import { createRandom } from '../visitors/random'
import { shownAfter } from '../visitors/shownAfter'
import { drawVisitor, type Visitor } from '../visitors/visitor'
import { DAY } from '../../core/time/units'

/** An experiment with the time in which it ran, in ms since 1970. */
export type PastExperiment = Pick<
  SiteFileExperiment,
  'id' | 'salt' | 'share' | 'weights' | 'pages' | 'period' | 'holdouts'
> & {
  group?: GroupPlace | null
  /** Conditions on what simulated visitors are: their country, device and language. */
  audience?: Group | null
  from: number
  until: number
}

export interface History {
  origin: string
  experiments: readonly PastExperiment[]
  /** What was won before, from when it is served on. */
  rollouts: readonly PastExperiment[]
  /** Of whom behavior is told; null for nobody. */
  behavior: Pick<SiteFileBehavior, 'salt' | 'share'> | null
  /** Asked of those who come after it was started. */
  survey: (DeliveredSurvey & { from: number }) | null
  population: Population
  until: Date
  days: number
  visitors: number
  seed: number
}

/** What the browsers of one visit sent. */
export interface SimulatedVisit {
  visitor: Visitor
  pages: { view: CollectedView; events: CollectedEvent[] }[]
}

interface PlannedVisit {
  visitor: number
  visit: number
  at: number
}

/**
 * All visits of simulated visitors over a stretch of days, day by day and in the order of time.
 *
 * @returns one list of visits a day
 */
export function* simulateHistory(history: History): Generator<SimulatedVisit[]> {
  const planned = planVisits(history)
  const drawn: Drawn = new Map()
  const dayOf = (at: number) => Math.floor(at / DAY)
  for (let start = 0; start < planned.length;) {
    let end = start
    while (end < planned.length && dayOf(planned[end]!.at) === dayOf(planned[start]!.at)) end++
    yield planned.slice(start, end).map((each) => simulateVisit(history, drawn, each))
    start = end
  }
}

function planVisits({ visitors, seed, until, days }: History): PlannedVisit[] {
  const arrival = arrivalTimes(until, days)
  const planned: PlannedVisit[] = []
  for (let visitor = 0; visitor < visitors; visitor++) {
    // Draws of their own: the hour of the load cuts visits off, and moves nobody else's.
    const random = createRandom(murmurHash3(`plan ${visitor}`, seed))
    let at = arrival(random)
    for (let visit = 1; at < until.getTime(); visit++) {
      planned.push({ visitor, visit, at })
      if (!random.chance(0.24)) break
      at += random.between(0.2, 9) * DAY
    }
  }
  return planned.sort((a, b) => a.at - b.at)
}

/** What browsers remember where a split moves: by visitor and experiment, the variant and the period it was drawn in. */
type Drawn = Map<string, { variant: number; period: number }>

/** The variant of a visitor, who keeps what they were drawn by earlier weights; null for somebody who has no part. */
function meets(drawn: Drawn, visitor: string, experiment: PastExperiment): Met | null {
  const { id, salt, period } = experiment
  const key = `${visitor} ${id}`
  const known = drawn.get(key)
  if (known) return { experiment: id, salt, ...known }
  const variant = variantByBuckets(visitor, experiment)
  if (variant === null) return null
  if (period === undefined) return { experiment: id, salt, variant }
  drawn.set(key, { variant, period })
  return { experiment: id, salt, variant, period }
}

function simulateVisit(
  { origin, experiments, rollouts, population, seed, until, behavior, survey }: History,
  drawn: Drawn,
  planned: PlannedVisit,
): SimulatedVisit {
  const visitor = drawVisitor(createRandom(murmurHash3(`visitor ${planned.visitor}`, seed)), population.crowd)
  const random = createRandom(murmurHash3(`visit ${planned.visitor} ${planned.visit}`, seed))
  const { country, device, language } = visitor
  const meet = (path: string) =>
    experiments
      .filter((each) => planned.at >= each.from && planned.at <= each.until && matchesPage(each.pages, origin + path))
      .filter(({ audience }) => !audience || holds(audience, { now: planned.at, country, device, language }))
      .map((each) => meets(drawn, visitor.id, each))
      .filter((each) => each !== null)
  const session = { id: random.id(12), visit: planned.visit }
  let opened = Math.round(planned.at)
  const pages = []
  // Draws of its own: whose behavior is told changes nothing that anybody does.
  const behaving = createRandom(murmurHash3(`behavior ${planned.visitor} ${planned.visit}`, seed))
  const isTold = behavior !== null && !visitor.isRobot && isInTest(visitor.id, behavior)
  const asking = createRandom(murmurHash3(`survey ${planned.visitor}`, seed))
  // Nobody is asked twice: those who come again have been asked, or were not to be.
  let mayAsk = survey !== null && planned.visit === 1 && planned.at >= survey.from && !visitor.isRobot
  for (const page of population.journey(random, visitor, meet)) {
    if (isTold) page.events.push(...behaviorOn(behaving, page, visitor))
    const surveyed = mayAsk ? surveyOn(asking, page, visitor, survey!) : []
    page.events.push(...surveyed)
    mayAsk &&= surveyed.length === 0
    if (opened + page.stay >= until.getTime()) break
    const collected = collectedPage(random, page, visitor, session, origin, opened)
    const here = rollouts.filter(({ from, pages: rules }) => opened >= from && matchesPage(rules, origin + page.path))
    for (const each of here.filter((one) => variantByBuckets(visitor.id, one) !== null))
      collected.events.push({
        type: 'exposure',
        experiment: each.id,
        variant: 0,
        shownAfter: shownAfter(visitor, collected.view.id),
        view: collected.view.id,
        // Ids of their own draws: what is served moves nobody's.
        id: timeOrderedId(opened, each.id, createRandom(murmurHash3(collected.view.id, each.id)).bytes(8)),
      })
    pages.push(collected)
    opened += page.stay
  }
  return { visitor, pages }
}
