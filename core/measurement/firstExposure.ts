/** One time a visitor saw a variant of an experiment. */
export interface ExposureSighting {
  variant: number
  /** ms since 1970 */
  at: number
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
  for (const sighting of sightings) {
    if (!first) {
      first = { variant: sighting.variant, at: sighting.at, crossed: false }
      continue
    }
    const crossed = first.crossed || sighting.variant !== first.variant
    first = sighting.at < first.at ? { variant: sighting.variant, at: sighting.at, crossed } : { ...first, crossed }
  }
  return first
}
