import { jsonText } from './jsonText'
import type { FactTest } from '../../core/targeting/condition'
import { matchesPageRule } from '../../core/targeting/pageRule'
import { askedOfVisitors } from '../../shared/delivery/askedOfVisitors'
import type { SiteFile } from '../../shared/delivery/siteFile'
import { readStorage, writeStorage } from './keeping'
import { safely } from './safely'
import { readSession } from './visitor'
import { nativeDocument } from '../native'

/**
 * What is remembered of a visitor, for sites whose conditions ask for it. Kept in the browser and told to nobody; of
 * pages and events only those that a condition names, from the first page on that it ran on.
 */
const KNOWN = 'vetch_known'
/** The latest of each kind; older ones are forgotten. */
const MOST_KEPT = 100

interface Known {
  /** When the first visit began, where it is known. */
  first?: number
  /** Number of the visit, the address of its first page, and the host that was come from. */
  visit: [number, string, string]
  pages: [string, number][]
  events: [string, number][]
  variants: Record<string, number>
  /** Of experiments whose split moves, in which period the variant was drawn. */
  periods: Record<string, number>
}

/** What was kept, of the visit that is under way. */
export function readKnown(): Known {
  const session = readSession()
  const visit = session?.isOpen ? session.visit : (session?.visit ?? 0) + 1
  const found = safely(() => JSON.parse(readStorage(KNOWN) ?? '') as Partial<Known>)
  // Whatever else stands under the name, nothing of the visit breaks.
  const known: Known = {
    first: found?.first,
    visit: Array.isArray(found?.visit) ? found.visit : [0, '', ''],
    pages: Array.isArray(found?.pages) ? found.pages : [],
    events: Array.isArray(found?.events) ? found.events : [],
    variants: { ...found?.variants },
    periods: { ...found?.periods },
  }
  if (known.visit[0] !== visit) {
    const referrer = safely(() => new URL(nativeDocument.referrer).host) ?? ''
    known.visit = [visit, location.href, referrer === location.host ? '' : referrer]
    if (visit === 1) known.first = Date.now()
    keepKnown(known)
  }
  return known
}

function keepKnown(known: Known): void {
  writeStorage(KNOWN, jsonText(known))
}

/** Everything that conditions of the site ask of a visitor. */
export function testsOf({ entries }: SiteFile): FactTest[] {
  return entries.flatMap(askedOfVisitors)
}

interface Shown {
  experiment: number
  variant: number
  period?: number
}

/** Notes that the page is open, and the variants that are shown on it. */
export function noteView(siteFile: SiteFile, shown: readonly Shown[]): void {
  const known = readKnown()
  const isNamed = testsOf(siteFile).some(({ page }) => page && matchesPageRule(page, location.href))
  if (isNamed) known.pages = [...known.pages, [location.href, Date.now()] as [string, number]].slice(-MOST_KEPT)
  keepKnown(known)
  noteVariants(shown)
}

/** Notes which variants are shown. */
export function noteVariants(shown: readonly Shown[]): void {
  if (shown.length === 0) return
  const known = readKnown()
  for (const { experiment, variant, period } of shown) {
    known.variants[experiment] = variant
    if (period !== undefined) known.periods[experiment] = period
  }
  keepKnown(known)
}

/** Keeps an event, where a condition asks whether it was done. */
export function keepEvent(event: string, siteFile: SiteFile): void {
  if (!testsOf(siteFile).some(({ fact, name }) => fact === 'did' && name === event)) return
  const known = readKnown()
  known.events = [...known.events, [event, Date.now()] as [string, number]].slice(-MOST_KEPT)
  keepKnown(known)
}

/** With withdrawn consent. */
export function forgetKnown(): void {
  writeStorage(KNOWN, null)
}
