import type { eventWithTime } from '@rrweb/types'
import type { KeptStyleSheet } from '~~/shared/recordings/replies'
import { unreadStyleSheets } from './harmlessEvents'

/** A page that names more is shown with these. */
const MOST = 20

/**
 * What the style sheets say that a recorder could not read, as far as there are copies.
 *
 * @param events - of a recording
 * @param read - asks for the copy at a moment; null where there is none
 * @returns by their addresses; and how many there is no copy of
 */
export async function recordedStyleSheets(
  events: readonly eventWithTime[],
  read: (address: string, at: number) => Promise<KeptStyleSheet | null>,
): Promise<{ sheets: Map<string, string>; missing: number }> {
  const addresses = unreadStyleSheets(events)
  const at = events[0]?.timestamp ?? 0
  const copies = await Promise.all(addresses.slice(0, MOST).map((address) => read(address, at)))
  const found = copies.flatMap((copy, place) => (copy ? [[addresses[place]!, copy.content] as const] : []))
  return { sheets: new Map(found), missing: addresses.length - found.length }
}
