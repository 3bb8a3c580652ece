/**
 * How an edit stands to the page as the site itself has it: the page shows the same without it (*built in*), it makes a
 * difference (*needed*), its element is gone (*lost*), or a browser cannot tell (*unknown*), as of code that runs.
 */
export const STANDINGS = ['needed', 'lost', 'unknown', 'built in'] as const
export type Standing = (typeof STANDINGS)[number]

/** The same of one page, which an edit may not be for. */
export type StandingOnPage = Standing | 'elsewhere'

/**
 * How an edit stands on several pages and devices: what one of them needs is needed.
 *
 * @example standingOverall(['built in', 'elsewhere', 'needed']) // 'needed'
 */
export function standingOverall(found: readonly StandingOnPage[]): Standing {
  return STANDINGS.find((standing) => found.includes(standing)) ?? 'unknown'
}

/**
 * Whether Vetch need not serve edits any longer: the site has built in all of them that can be seen, and at least one.
 * Code that runs is for people to judge.
 */
export function isBuiltIn(standings: readonly Standing[]): boolean {
  return standings.includes('built in') && standings.every((each) => each === 'built in' || each === 'unknown')
}
