/** Why a visitor is in nobody's numbers. */
export type LeftOutReason = 'robot' | 'pace' | 'absurd'

/** What is known of a visitor's whole time on the site. */
export interface VisitorTraffic {
  /** A view came from a program that says what it is. */
  isRobot: boolean
  views: number
  /** Everything reported, views included. */
  events: number
  /** ms from the first to the last of it */
  span: number
}

/** More than this and no person did it: a year of a busy visitor is a tenth. */
export const MOST_EVENTS_A_VISITOR = 20_000
/** So many views tell a pace; fewer may be a back button held down. */
const VIEWS_FOR_PACE = 60
/** Milliseconds a view that nobody keeps up for so many views. */
const FASTEST_PACE = 1000

/**
 * Whether a visitor is to be left out of the numbers, and why: programs that say so by their user agent, page views at
 * a pace that no person keeps up, and counts that no person reaches.
 *
 * @returns null for a visitor who counts
 */
export function leftOutReason({ isRobot, views, events, span }: VisitorTraffic): LeftOutReason | null {
  if (isRobot) return 'robot'
  if (events > MOST_EVENTS_A_VISITOR) return 'absurd'
  return views >= VIEWS_FOR_PACE && span < views * FASTEST_PACE ? 'pace' : null
}
