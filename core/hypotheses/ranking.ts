/** What an idea is ranked by. */
export interface Ranked {
  id: number
  /** Expected money in a month for a day of effort; Infinity where it takes no effort; null where it has no value. */
  moneyADay: number | null
  /** Where there is no money, or as much: units of its metric. */
  gainADay: number | null
  /** The place that somebody has given it by hand, from 1. */
  handPlace: number | null
}

/** Where an idea stands. */
export interface Place {
  id: number
  /** Place by what was computed, from 1. */
  computed: number
  /** Place in the list, with those that were moved by hand. */
  place: number
}

/**
 * Ranks ideas by what was computed, the most for a day of effort first; those without a value come last. Whatever was
 * moved by hand stands where it was put, and the others fill the places around it.
 *
 * @returns the places, in the order of the list
 */
export function rank(ideas: readonly Ranked[]): Place[] {
  const size = (value: number | null) => value ?? -Infinity
  const difference = (a: number, b: number) => (a === b ? 0 : b - a)
  const computed = [...ideas].sort(
    (a, b) =>
      difference(size(a.moneyADay), size(b.moneyADay)) || difference(size(a.gainADay), size(b.gainADay)) || a.id - b.id,
  )
  return inPlaces(computed)
}

/** The same by scores of the team's own, the highest first. */
export function rankByScore(ideas: readonly (Pick<Ranked, 'id' | 'handPlace'> & { score: number | null })[]): Place[] {
  const size = ({ score }: { score: number | null }) => score ?? -Infinity
  return inPlaces([...ideas].sort((a, b) => (size(a) === size(b) ? a.id - b.id : size(b) - size(a))))
}

function inPlaces(computed: readonly Pick<Ranked, 'id' | 'handPlace'>[]): Place[] {
  const list = computed.map(({ id, handPlace }, index) => ({ id, handPlace, computed: index + 1 }))
  const placed = list.filter(({ handPlace }) => handPlace === null)
  const moved = list.filter(({ handPlace }) => handPlace !== null).sort((a, b) => a.handPlace! - b.handPlace!)
  for (const each of moved) placed.splice(each.handPlace! - 1, 0, each)
  return placed.map(({ id, computed: place }, index) => ({ id, computed: place, place: index + 1 }))
}

/** A score that the team gives by itself. */
export interface Criterion {
  id: string
  name: string
  /** Above 0. */
  weight: number
}

/**
 * The weighted mean of a team's own scores.
 *
 * @returns null while one of them is missing
 */
export function weightedScore(criteria: readonly Criterion[], scores: Readonly<Record<string, number>>): number | null {
  if (criteria.length === 0 || criteria.some(({ id }) => scores[id] === undefined)) return null
  const weights = criteria.reduce((sum, { weight }) => sum + weight, 0)
  return criteria.reduce((sum, { id, weight }) => sum + weight * scores[id]!, 0) / weights
}
