import type { PoolClient } from 'pg'
import { isBefore } from '../../../core/measurement/firstExposure'
import type { FoldContext } from './foldContext'
import type { StoredEvent } from './storedEvent'
import type { Portion } from './foldPortion'
import * as queries from './queries'

/** An order that was known, and the same order told by an event that turns out to be earlier. */
export interface EarlierTelling {
  gone: StoredEvent
  come: StoredEvent
}

/**
 * The new events without orders that were told before, and those of the orders that turn out to have been told earlier
 * than was known.
 *
 * @param portion - where the new events stand among all
 */
export async function tellOrdersApart(
  client: PoolClient,
  { siteId, ofPersons, inMoney }: FoldContext,
  { from, to, folded }: Portion,
  arrived: readonly StoredEvent[],
): Promise<{ events: readonly StoredEvent[]; earlier: Map<string, EarlierTelling[]> }> {
  const earlier = new Map<string, EarlierTelling[]>()
  const orders = arrived.filter(({ once }) => once)
  if (orders.length === 0) return { events: arrived, earlier }
  const { rows } = await client.query<StoredEvent>(queries.knownOrders(ofPersons.size > 0), [
    siteId,
    [...new Set(orders.map(({ visitor }) => visitor))],
    [...new Set(orders.map(({ once }) => once))],
    folded,
    from,
    to,
  ])
  const known = new Map(rows.map((row) => [orderOf(row), inMoney(row)]))
  const first = new Map<string, StoredEvent>()
  const events = arrived.filter((event) => {
    const before = event.once ? (first.get(orderOf(event)) ?? known.get(orderOf(event))) : undefined
    if (before && isBefore(event, before)) first.set(orderOf(event), event)
    return !(event.once && known.has(orderOf(event)))
  })
  for (const [order, come] of first) {
    const own = earlier.get(come.visitor) ?? []
    own.push({ gone: known.get(order)!, come })
    earlier.set(come.visitor, own)
  }
  return { events, earlier }
}

function orderOf({ visitor, once }: StoredEvent): string {
  return `${visitor} ${once}`
}
