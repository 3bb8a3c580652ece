import { fewVisitors } from './fewVisitors'
import { hours, whole, type WatchFinding } from './finding'
import type { HourlySums } from './hourlySums'

/**
 * What is wrong with a rollout, by its own counts.
 *
 * @param sums - of its single arm, by hour in their order, without gaps, since it is served as it is now
 */
export function rolloutFindings(sums: readonly HourlySums[]): WatchFinding[] {
  const few = fewVisitors(sums)
  if (!few) return []
  const { count, window, usual } = few
  const text = `${whole(count)} visitor${count === 1 ? '' : 's'} got it in the last ${hours(window)}; by the visits of the site about ${whole(usual)} would be usual.`
  return [{ check: 'visitors', cause: 'few', text }]
}
