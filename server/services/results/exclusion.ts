/** Whom somebody has left out of an experiment's numbers: a visitor, the team, all of a span of time, or a crowd. */
export interface Exclusion {
  experiment: number
  kind: 'visitor' | 'team' | 'span' | 'crowd'
  visitor: string | null
  /** Who a crowd was when it was left out. */
  visitors: ReadonlySet<string> | null
  from: number | null
  until: number | null
}

/** What is known of a visitor when it is decided whether they count. */
export interface KnownVisitor {
  id: string
  isTeam: boolean
  /** Why they are in nobody's numbers, or null. */
  leftOut: string | null
}

/** Whether an exclusion is of a visitor who was first exposed at a moment. */
export function excludes(
  { kind, visitor, visitors, from, until }: Exclusion,
  { id, isTeam }: KnownVisitor,
  exposedAt: number,
): boolean {
  if (kind === 'visitor') return visitor === id
  if (kind === 'team') return isTeam
  if (kind === 'crowd') return visitors!.has(id)
  return exposedAt >= from! && exposedAt < until!
}
