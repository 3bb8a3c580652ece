import { probabilityOfAtMost } from '../statistics/countTails'
import { WATCH_LEVEL, WINDOWS } from './finding'
import { parted, total, type HourlySums } from './hourlySums'

/** How far the share of visits that reach an experiment, or that count in a metric, changes by itself. */
export const SPREAD = 0.3
/** Under which share of what is usual something is nearly gone. */
export const NEARLY_NOTHING = 0.2
/** As many visitors say what is usual. */
export const LEAST_KNOWN = 100

export interface FewVisitors {
  count: number
  /** Within so many hours. */
  window: number
  /** What the visits of the site would have brought. */
  usual: number
}

/** Far fewer visitors than the visits of the site would bring: the page lost the line, or its address changed. */
export function fewVisitors(sums: readonly HourlySums[]): FewVisitors | null {
  for (const window of WINDOWS) {
    const { before, within } = parted(sums, window)
    if (!before || !within || total(before.visitors) < LEAST_KNOWN || before.visits === 0) continue
    const usual = (within.visits * total(before.visitors)) / before.visits
    const count = total(within.visitors)
    if (count >= NEARLY_NOTHING * usual) continue
    if (probabilityOfAtMost(count, { mean: usual, spread: SPREAD }) < WATCH_LEVEL) return { count, window, usual }
  }
  return null
}
