import { assign } from '../../core/assignment/assignment'
import { matchesPage } from '../../core/targeting/pageRule'
import type { EventRow } from '../../server/intake/eventRow'
import { arrivalTimes } from '../visitors/calendar'
import { drawVisitor, simulateSession, type PageVisit, type Visitor } from '../visitors/journey'
import { createRandom, type Random } from '../visitors/random'
import type { SiteFileExperiment } from '../../shared/siteFile'

const DAY = 24 * 60 * 60 * 1000

export interface History {
  siteId: number
  origin: string
  /** Experiments with the time in which they ran, in ms since 1970. */
  experiments: readonly (SiteFileExperiment & { from: number; until: number })[]
  until: Date
  days: number
  visitors: number
  seed: number
}

/** All events of simulated visitors over a stretch of days, visitor by visitor. */
export function* simulateHistory(history: History): Generator<EventRow[]> {
  const random = createRandom(history.seed)
  const arrival = arrivalTimes(history.until, history.days)
  for (let index = 0; index < history.visitors; index++) {
    const visitor = drawVisitor(random)
    let at = arrival(random)
    const rows: EventRow[] = []
    do {
      rows.push(...sessionRows(history, random, visitor, at))
      at += random.between(0.2, 9) * DAY
    } while (at < history.until.getTime() && random.chance(0.24))
    yield rows
  }
}

function sessionRows(history: History, random: Random, visitor: Visitor, start: number): EventRow[] {
  const meet = (path: string) =>
    history.experiments
      .filter(
        (each) => start >= each.from && start <= each.until && matchesPage(each.pages, `${history.origin}${path}`),
      )
      .map((each) => ({ experiment: each.id, salt: each.salt, variant: assign(visitor.id, each) }))
      .filter((each): each is typeof each & { variant: number } => each.variant !== null)
  const sessionId = random.id(12)
  let opened = start
  return simulateSession(random, visitor, meet).flatMap((page) => {
    const rows = pageRows(history, random, visitor, sessionId, page, opened)
    opened += page.stay
    return rows
  })
}

function pageRows(
  history: History,
  random: Random,
  visitor: Visitor,
  sessionId: string,
  page: PageVisit,
  opened: number,
): EventRow[] {
  return page.events.map((event) => {
    const time = new Date(Math.min(opened + event.after, history.until.getTime()))
    return {
      siteId: history.siteId,
      visitorId: visitor.id,
      id: random.uuid(),
      madeAt: time,
      type: event.type,
      occurredAt: time,
      receivedAt: time,
      sessionId,
      address: `${history.origin}${page.path}`,
      experimentId: event.experiment ?? null,
      variant: event.variant ?? null,
      selectors: event.selectors ?? null,
      name: event.name ?? null,
      amount: event.amount ?? null,
      currency: event.currency ?? null,
      properties: event.properties ?? null,
    }
  })
}
