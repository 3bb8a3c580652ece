import type { Crossing } from '../site/crossings'

/** Who travels where, on foot. */
export interface Party {
  crossing: Crossing | null
  adults: number
  children: number
}

/** A ticket that was sold; `total` in euro. */
export interface Ticket {
  number: string
  total: number
}
