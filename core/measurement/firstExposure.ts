/** One time a visitor saw a variant of an experiment. */
export interface ExposureSighting {
  variant: number
  /** ms since 1970 */
  at: number
  /** Id of the event: decides between two of the same time, whichever arrives first. */
  id: string
  /** The page view it happened in. */
  view: string
  /** By the weights of which period it was drawn; null, or left out, where the split does not move. */
  period?: number | null
  /** How long after the opening of the page its changes were there, in ms; null, or left out, where it is not known. */
  shownAfter?: number | null
}

/** The visitor's exposure: the first sighting, and whether another variant was ever seen. */
export interface FirstExposure extends ExposureSighting {
  crossed: boolean
}

/**
 * The first of several sightings, whatever the order they arrive in.
 *
 * @param known - what was known before, if anything
 * @param sightings - new sightings, in any order
 */
export function firstExposure(
  known: FirstExposure | null,
  sightings: readonly ExposureSighting[],
): FirstExposure | null {
  let first = known
  for (const { variant, at, id, view, period = null, shownAfter = null } of sightings) {
    const crossed = first !== null && (first.crossed || variant !== first.variant)
    first =
      !first || isBefore({ at, id }, first)
        ? { variant, at, id, view, period, shownAfter, crossed }
        : { ...first, crossed }
  }
  return first
}

/** Whether one event comes before another: by time, and at the same time by id. */
export function isBefore(one: { at: number; id: string }, other: { at: number; id: string }): boolean {
  return one.at < other.at || (one.at === other.at && one.id < other.id)
}
