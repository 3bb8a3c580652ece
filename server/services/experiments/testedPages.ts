import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { beginningPath } from '../../../core/targeting/pageRule'
import type { SeenAddress } from './forecast'

/** The most visited pages of an experiment are tried and photographed. */
export const MOST_TESTED_PAGES = 3

/**
 * The most visited pages of a sheet; those that its rules name where nobody came.
 *
 * @param seen - addresses that its rules match, the most visited first
 */
export function testedPages({ pageRules }: ExperimentSheet, seen: readonly SeenAddress[]): string[] {
  const visited = pathsOf(seen)
  const named = pageRules.map(beginningPath).filter((path) => path !== null)
  return (visited.length > 0 ? visited : [...new Set(named)]).slice(0, MOST_TESTED_PAGES)
}

/** Campaigns lead to the same page by many addresses. */
export function pathsOf(seen: readonly SeenAddress[]): string[] {
  return [...new Set(seen.map(({ address }) => new URL(address).pathname))]
}
