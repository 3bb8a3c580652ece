import type { Block, Visits } from './visits'

/**
 * Calls with the steps of each selected session, one after the other: from the first row to before the last, in the
 * order of time. Sessions of one visitor follow each other.
 */
export function eachSession(
  visits: Visits,
  selected: Uint8Array,
  work: (block: Block, first: number, end: number, session: number) => void,
): void {
  for (const block of visits.blocks()) {
    const { runs, runSession } = block
    for (let run = 0; run < runSession.length; run++) {
      const own = runSession[run]!
      if (selected[own] === 1) work(block, runs[run]!, runs[run + 1]!, own)
    }
  }
}

/**
 * A function that tells in which stretch a moment lies, of stretches given by their beginnings and the end of the last;
 * −1 outside. Moments that are close to each other are asked one after the other, so the last answer is tried first.
 */
export function dayFinder(moments: readonly number[]): (at: number) => number {
  const begins = Float64Array.from(moments)
  const end = begins.length - 1
  let last = 0
  return (at) => {
    if (at >= begins[last]! && at < begins[last + 1]!) return last
    let low = 0
    let high = end
    if (!(at >= begins[low]! && at < begins[high]!)) return -1
    while (high - low > 1) {
      const middle = (low + high) >> 1
      if (at < begins[middle]!) high = middle
      else low = middle
    }
    return (last = low)
  }
}
