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
    const { count, session } = block
    for (let row = 0; row < count;) {
      const own = session[row]!
      let end = row + 1
      while (end < count && session[end] === own) end++
      if (selected[own] === 1) work(block, row, end, own)
      row = end
    }
  }
}

/** Index of the stretch that a moment lies in, of stretches given by their beginnings and the end of the last; −1 outside. */
export function indexOfDay(moments: readonly number[], at: number): number {
  let [low, high] = [0, moments.length - 1]
  if (at < moments[low]! || at >= moments[high]!) return -1
  while (high - low > 1) {
    const middle = (low + high) >> 1
    if (at < moments[middle]!) high = middle
    else low = middle
  }
  return low
}
