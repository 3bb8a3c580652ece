import { matchesPageRule, type PageRule } from '../targeting/pageRule'
import { countedSteps, type CountedSource } from './countedSteps'
import { KIND, type Dimension, type Visits } from './visits'

/** What a session must be. All parts hold. */
export type SegmentPart =
  | { kind: 'dimension'; dimension: Dimension; value: string }
  /** One of its pages said so of the visitor; see `attributeText`. */
  | { kind: 'attribute'; told: string }
  /** It did, or did not do, what a metric counts. */
  | { kind: 'converted'; source: CountedSource; isConverted: boolean }
  /** It is one of a visitor in a variant, from the exposure on. */
  | { kind: 'variant'; exposures: ReadonlyMap<number, number> }

/** Which sessions a report is about: those that began within a range, of a segment, on some pages. */
export interface Selection {
  /** ms since 1970: from the first, before the second */
  from: number
  until: number
  segment: readonly SegmentPart[]
  /** Sessions with a view of such a page; null for all. */
  page: PageRule | null
}

/** What a session without a value has. */
export const UNKNOWN = 'unknown'

/**
 * Which sessions are selected.
 *
 * @returns 1 for each session that is, by its number
 */
export function selectSessions(visits: Visits, { from, until, segment, page }: Selection): Uint8Array {
  const selected = new Uint8Array(visits.sessionCount)
  const { sessionVisitor, sessionStart, isLeftOut } = visits
  const isNeeded = segment.flatMap((part) => {
    if (part.kind !== 'dimension') return []
    const wanted = part.value === UNKNOWN ? 0 : (visits.dimensions[part.dimension].find(part.value) ?? -1)
    return [{ values: visits.sessionDimensions[part.dimension].values, wanted }]
  })
  const [starts, visitors, leftOut] = [sessionStart.values, sessionVisitor.values, isLeftOut.values]
  for (let session = 0; session < selected.length; session++) {
    const start = starts[session]!
    if (start >= from && start < until && leftOut[visitors[session]!] !== 1) selected[session] = 1
  }
  for (const { values, wanted } of isNeeded)
    for (let session = 0; session < selected.length; session++) if (values[session] !== wanted) selected[session] = 0
  if (page) keepOnly(selected, sessionsOn(visits, page), true)
  for (const part of segment) {
    if (part.kind === 'converted') keepOnly(selected, sessionsWith(visits, part.source), part.isConverted)
    if (part.kind === 'attribute') keepOnly(selected, sessionsTold(visits, part.told), true)
    if (part.kind === 'variant') keepOnly(selected, sessionsSince(visits, part.exposures), true)
  }
  return selected
}

function keepOnly(selected: Uint8Array, those: Uint8Array, isThem: boolean): void {
  for (let session = 0; session < selected.length; session++)
    if ((those[session] === 1) !== isThem) selected[session] = 0
}

function sessionsOn(visits: Visits, rule: PageRule): Uint8Array {
  const found = new Uint8Array(visits.sessionCount)
  const isMatch = visits.addresses.table((address) => matchesPageRule(rule, address))
  for (const { count, kind, address, session } of visits.blocks())
    for (let row = 0; row < count; row++)
      if (kind[row] === KIND.page && isMatch[address[row]!] === 1) found[session[row]!] = 1
  return found
}

/** Sessions in which something happened that a source counts. */
export function sessionsWith(visits: Visits, source: CountedSource): Uint8Array {
  const found = new Uint8Array(visits.sessionCount)
  const isCounted = countedSteps(visits, source)
  for (const block of visits.blocks())
    for (let row = 0; row < block.count; row++) if (isCounted(block, row)) found[block.session[row]!] = 1
  return found
}

function sessionsTold(visits: Visits, told: string): Uint8Array {
  const found = new Uint8Array(visits.sessionCount)
  const wanted = visits.attributes.find(told)
  if (wanted === undefined) return found
  for (const [session, own] of visits.sessionAttributes) if (own.has(wanted)) found[session] = 1
  return found
}

/** Sessions with a step at or after the moment that stands for their visitor. */
function sessionsSince(visits: Visits, since: ReadonlyMap<number, number>): Uint8Array {
  const found = new Uint8Array(visits.sessionCount)
  for (const { count, visitor, session, at } of visits.blocks())
    for (let row = 0; row < count; row++) {
      const moment = since.get(visitor[row]!)
      if (moment !== undefined && at[row]! >= moment) found[session[row]!] = 1
    }
  return found
}
