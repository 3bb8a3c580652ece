import { murmurHash3 } from '../../core/assignment/murmurHash3'
import { createRandom } from './random'
import type { Visitor } from './visitor'

/** In ms: with half of the visitors changes show sooner. */
const USUAL = { phone: 900, tablet: 700, desktop: 500 } as const

/**
 * How long after the opening of a page its changes are there, in ms. Draws of its own: it changes nothing that anybody
 * does.
 */
export function shownAfter({ device }: Pick<Visitor, 'device'>, viewId: string): number {
  return Math.round(USUAL[device] * 2 ** createRandom(murmurHash3(viewId, 1)).between(-1, 1.3))
}
