import { timeOfId } from '../../core/identity/timeOrderedId'
import { eventRow, viewRow, type IntakeSite } from '../../server/intake/collect'
import { hashNetwork } from '../../server/intake/hashNetwork'
import type { FindPlace } from '../../server/intake/place'
import type { Arrival } from '../../server/intake/writeArrivals'
import type { SimulatedVisit } from './simulateHistory'

/** A visit as intake would have taken it at the time. */
export function visitArrival({ visitor, pages }: SimulatedVisit, intake: IntakeSite, findPlace: FindPlace): Arrival {
  const arrival: Arrival = { views: [], events: [] }
  const place = findPlace(visitor.address)
  const network = hashNetwork('demo', visitor.address, new Date(pages[0] ? timeOfId(pages[0].view.id) : 0))
  for (const { view, events } of pages) {
    const at = timeOfId(view.id)
    const row = viewRow(
      view,
      { address: visitor.address, userAgent: visitor.userAgent, receivedAt: new Date(at) },
      intake,
      at,
      () => place,
    )
    if (typeof row === 'string') throw new Error(`A simulated page view would be refused: ${row}`)
    row.network = network
    arrival.views.push(row)
    for (const event of events) arrival.events.push(eventRow(event, row, intake))
  }
  return arrival
}
