import { BUCKETS } from './assignment'

/** Buckets from one to before another. */
export type Range = readonly [from: number, to: number]

/** What each experiment of a group has of the buckets that they share; whoever lies in one lies in no other. */
export interface Part {
  experiment: number
  ranges: readonly Range[]
}

/**
 * Buckets for an experiment in a space that it shares with others that it excludes. What it has already it keeps, so
 * that raising its share moves nobody; what is free is given from the front.
 *
 * @param parts - of all experiments that have buckets now
 * @param experiment - the one that asks
 * @param share - how many buckets it is to have in all, 0 to 10,000; never fewer than it has
 * @returns its ranges in their order, or null where not as many are left
 * @example takeBuckets([{ experiment: 1, ranges: [[0, 4000]] }], 2, 3000) // [[4000, 7000]]
 */
export function takeBuckets(parts: readonly Part[], experiment: number, share: number): Range[] | null {
  const own = parts.find((part) => part.experiment === experiment)?.ranges ?? []
  let missing = share - sizeOf(own)
  const taken = [...own]
  for (const [from, to] of freeRanges(parts)) {
    if (missing <= 0) break
    const end = Math.min(to, from + missing)
    taken.push([from, end])
    missing -= end - from
  }
  return missing > 0 ? null : joined(taken)
}

/** What nobody has, in order. */
export function freeRanges(parts: readonly Part[]): Range[] {
  const free: Range[] = []
  let at = 0
  for (const [from, to] of joined(parts.flatMap(({ ranges }) => ranges))) {
    if (from > at) free.push([at, from])
    at = Math.max(at, to)
  }
  if (at < BUCKETS) free.push([at, BUCKETS])
  return free
}

/** How many buckets ranges hold that do not overlap. */
export function sizeOf(ranges: readonly Range[]): number {
  return ranges.reduce((sum, [from, to]) => sum + to - from, 0)
}

/** Whether a bucket lies in one of the ranges. */
export function isInRanges(bucket: number, ranges: readonly Range[]): boolean {
  return ranges.some(([from, to]) => bucket >= from && bucket < to)
}

/** In their order, with those that touch as one. */
function joined(ranges: readonly Range[]): Range[] {
  const result: [number, number][] = []
  for (const [from, to] of [...ranges].sort((one, other) => one[0] - other[0])) {
    const last = result.at(-1)
    if (last && from <= last[1]) last[1] = Math.max(last[1], to)
    else result.push([from, to])
  }
  return result
}

/**
 * The first buckets of ranges, as many as are asked for.
 *
 * @example firstBuckets([[0, 100], [500, 600]], 150) // [[0, 100], [500, 550]]
 */
export function firstBuckets(ranges: readonly Range[], count: number): Range[] {
  const result: Range[] = []
  let missing = count
  for (const [from, to] of ranges) {
    if (missing <= 0) break
    result.push([from, Math.min(to, from + missing)])
    missing -= to - from
  }
  return result
}
