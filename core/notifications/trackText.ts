/** A lift with its interval, as a track shows it. */
export interface TrackedLift {
  name: string
  estimate: number | null
  interval: readonly [number, number] | null
}

/** Signs from edge to edge; odd, so that one stands in the middle. */
const WIDTH = 41
const LEAST_REACH = 0.05

/**
 * Draws tracks as lines of text, all on one scale around zero: the interval as a bar, the estimate as a ring, zero as an
 * upright, the smallest worthwhile lift as a colon, and an arrow where an interval goes beyond the edge.
 *
 * @param smallestLift - smallest worthwhile lift, below 0 where less is better
 * @returns a heading with the scale, then two lines a variant; empty where nothing has an interval
 * @example
 * trackText([{ name: 'B', estimate: 0.1, interval: [0.02, 0.18] }], 0.05)
 * // −18 %               0               +18 %
 * // B: +10.0 %, +2.0 % to +18.0 %
 * //                     │ ┝━━━:━━━━○━━━━━━━━┥
 */
export function trackText(lifts: readonly TrackedLift[], smallestLift: number): string {
  const shown = lifts.filter(({ interval }) => interval !== null)
  if (shown.length === 0) return ''
  const ends = shown.flatMap(({ interval, estimate }) => [...interval!, estimate ?? 0])
  const reach = Math.min(1, Math.max(LEAST_REACH, 1.5 * Math.abs(smallestLift), ...ends.map(Math.abs)))
  const edges = [percent(-reach, 0), '0', percent(reach, 0)]
  const middle = (WIDTH - 1) / 2
  const scale = edges[0]!.padEnd(middle) + edges[1]! + edges[2]!.padStart(WIDTH - middle - 1)
  return [scale, ...shown.flatMap((lift) => [sentenceOf(lift), drawn(lift, reach, smallestLift)])].join('\n')
}

function sentenceOf({ name, estimate, interval }: TrackedLift): string {
  const [low, high] = interval!
  return `${name}: ${estimate === null ? 'no estimate' : percent(estimate)}, ${percent(low)} to ${percent(high)}`
}

function drawn({ estimate, interval }: TrackedLift, reach: number, smallestLift: number): string {
  const placeOf = (lift: number) =>
    Math.round(((Math.min(Math.max(lift, -reach), reach) + reach) / (2 * reach)) * (WIDTH - 1))
  const [low, high] = interval!
  const [from, to] = [placeOf(low), placeOf(high)]
  const signs = Array.from({ length: WIDTH }, (_, place): string => (place >= from && place <= to ? '━' : ' '))
  signs[placeOf(0)] = '│'
  signs[placeOf(smallestLift)] = ':'
  signs[from] = low < -reach ? '◁' : '┝'
  signs[to] = high > reach ? '▷' : '┥'
  if (estimate !== null) signs[placeOf(estimate)] = '○'
  return signs.join('').trimEnd()
}

function percent(share: number, digits = 1): string {
  const sign = share > 0 ? '+' : share < 0 ? '−' : ''
  return `${sign}${(Math.abs(share) * 100).toFixed(digits)} %`
}
