import type { SegmentPlace } from '../../../core/traffic/segment'

/** Whom somebody has left out of an experiment's numbers: a visitor, the team, all of a span of time, a crowd, a segment. */
export interface Exclusion {
  experiment: number
  kind: 'visitor' | 'team' | 'span' | 'crowd' | 'segment'
  visitor: string | null
  /** Who a crowd was when it was left out. */
  visitors: ReadonlySet<string> | null
  segment: SegmentPlace | null
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

/** Of a first exposure: when it was, and what the visitor was then. */
export interface FirstExposure {
  at: number
  segments: Readonly<Record<string, string>>
}

/** Whether an exclusion is of a visitor with a first exposure. */
export function excludes(
  { kind, visitor, visitors, segment, from, until }: Exclusion,
  { id, isTeam }: KnownVisitor,
  { at, segments }: FirstExposure,
): boolean {
  if (kind === 'visitor') return visitor === id
  if (kind === 'team') return isTeam
  if (kind === 'crowd') return visitors!.has(id)
  if (kind === 'segment') return segments[segment!.dimension] === segment!.value
  return at >= from! && at < until!
}
