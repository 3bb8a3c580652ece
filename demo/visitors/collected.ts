import { timeOrderedId } from '../../core/identity/timeOrderedId'
import type { CollectedEvent, CollectedView } from '../../shared/intake/collect'
import type { PageVisit } from './journey'
import type { Random } from './random'
import { shownAfter } from './shownAfter'
import type { Visitor } from './visitor'

/** Ids with the time of something that was simulated; those of one page view follow each other. */
function createIds(random: Random) {
  let last = 0
  let counter = 0
  return (at: number) => {
    counter = at > last ? 0 : counter + 1
    last = Math.max(last, at)
    return timeOrderedId(last, counter, random.bytes(8))
  }
}

/** A simulated page view as the snippet would send it. */
export function collectedPage(
  random: Random,
  page: PageVisit,
  visitor: Visitor,
  session: { id: string; visit: number },
  origin: string,
  opened: number,
): { view: CollectedView; events: CollectedEvent[] } {
  const idAt = createIds(random)
  const view: CollectedView = {
    id: idAt(opened),
    visitor: visitor.id,
    session: session.id,
    visit: session.visit,
    address: origin + page.path,
    title: page.title,
    referrer: page.referrer,
    language: visitor.language,
    timeZone: visitor.timeZone,
    screen: [...visitor.screen],
    window: [...visitor.screen],
  }
  const inOrder = [...page.events].sort((a, b) => a.after - b.after)
  const events = inOrder.map(({ after, ...event }): CollectedEvent => ({
    ...event,
    ...(event.type === 'exposure' ? { shownAfter: shownAfter(visitor, view.id) } : {}),
    id: idAt(opened + Math.max(0, after)),
    view: view.id,
  }))
  return { view, events }
}
