import { browserFacts } from '../../core/targeting/browserFacts'
import { isProven, personId } from '../../core/identity/personId'
import { isActive } from '../../core/targeting/activation'
import { holds, testsIn, type FactTest } from '../../core/targeting/condition'
import { matchesPageRule } from '../../core/targeting/pageRule'
import type { VisitorFacts } from '../../core/targeting/visitorFacts'
import type { Circumstances } from '../../core/targeting/whyNot'
import type { CollectedView } from '../../shared/intake/collect'
import type { SiteFile } from '../../shared/delivery/siteFile'
import { readStorage, writeStorage } from './keeping'
import { guarded, safely } from './safely'
import { readSession } from './visitor'

/**
 * What is known of a visitor, for sites whose conditions ask for it. Kept in the browser and told to nobody; of pages
 * and events only those that a condition names, from the first page on that it ran on.
 */
const KNOWN = 'vetch_known'
const PLACE = 'vetch_place'
/** The latest of each kind; older ones are forgotten. */
const MOST_KEPT = 100
const LOOK_EVERY = 50
/** Of one attribute that is told with a view. */
const LONGEST_VALUE = 100

type Place = Pick<VisitorFacts, 'country' | 'region' | 'city'>
type Answered = Record<keyof Place, string | null>

interface Known {
  /** When the first visit began, where it is known. */
  first?: number
  /** Number of the visit, the address of its first page, and the host that was come from. */
  visit: [number, string, string]
  pages: [string, number][]
  events: [string, number][]
  variants: Record<string, number>
}

let attributes: Record<string, unknown> = {}
/** The page's own id of the person, as it is given; it is told to nobody. */
let givenPerson: string | undefined
/** null until it has been looked up. */
let place: Place | null = null
let isPlaceAwaited = false
let onChange: (() => void) | undefined

/** Calls when the page has said more of the visitor, or the place has been found. */
export function watchFacts(then: () => void): void {
  onChange = then
}

/**
 * What decides of a visitor besides their id, with what is known at this moment. As long as the place is being looked up, nobody fulfils
 * conditions that ask for it: what rules a place out must not let everybody in meanwhile.
 */
export function circumstancesNow(siteFile: SiteFile, base: string): Circumstances {
  let facts: VisitorFacts | undefined
  return {
    address: location.href,
    fulfils(audience) {
      facts ??= gatherFacts(siteFile, base)
      return !(isPlaceAwaited && testsIn(audience).some(asksPlace)) && holds(audience, facts)
    },
    isActive: (activation) => isActive(activation, { events: happened, calls: called, has: isOnPage }),
    variants: readKnown().variants,
    person: personNow(siteFile),
  }
}

const isOnPage = (selector: string) => !!document.querySelector(selector)

/** Events of the page view that is open, and names that code has called for in it. */
let happened: string[] = []
let called: string[] = []
export function forgetHappenings(): void {
  happened = []
  called = []
}

/** Calls back when an element may have come that something waits for. */
export function watchElements({ entries }: SiteFile, then: () => void): () => void {
  const isAwaited = entries.some((entry) => entry.kind === 'experiment' && entry.activation?.on === 'element')
  if (!isAwaited || typeof MutationObserver !== 'function') return () => {}
  let waiting: ReturnType<typeof setTimeout> | undefined
  let lookedAt = -Infinity
  const look = guarded(() => {
    waiting = undefined
    lookedAt = performance.now()
    then()
  })
  const observer = new MutationObserver(() => {
    // At once where it can be, so that nobody sees the page as it was; busy pages are looked at now and then.
    if (performance.now() - lookedAt > LOOK_EVERY) look()
    else waiting ??= setTimeout(look, LOOK_EVERY)
  })
  observer.observe(document, { childList: true, subtree: true, attributes: true })
  return () => {
    observer.disconnect()
    clearTimeout(waiting)
  }
}

/** Everything that conditions of the site may ask. */
export function gatherFacts(siteFile: SiteFile, base: string): VisitorFacts {
  const known = readKnown()
  const { visit } = known
  return {
    ...browserFacts(navigator.userAgent),
    ...placeOf(siteFile, base),
    now: Date.now(),
    siteTimeZone: siteFile.timeZone,
    timeZone: safely(() => Intl.DateTimeFormat().resolvedOptions().timeZone),
    screenWidth: screen.width,
    language: navigator.language,
    address: location.href,
    adParameters: siteFile.ads,
    landing: visit[1],
    referrer: visit[2],
    visits: visit[0],
    firstSeen: known.first,
    pages: known.pages.map(([address, at]) => ({ address, at })),
    events: known.events.map(([name, at]) => ({ name, at })),
    attributes,
    cookies: safely(() => Object.fromEntries(document.cookie.split('; ').map(cookieOf))),
    data: (window as { vetchData?: Record<string, unknown> }).vetchData,
    variants: known.variants,
  }
}

function cookieOf(text: string): [string, string] {
  const [name = '', ...value] = text.split('=')
  return [name, safely(() => decodeURIComponent(value.join('='))) ?? '']
}

/** What was kept, of the visit that is under way. */
function readKnown(): Known {
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
  }
  if (known.visit[0] !== visit) {
    const referrer = safely(() => new URL(document.referrer).host) ?? ''
    known.visit = [visit, location.href, referrer === location.host ? '' : referrer]
    if (visit === 1) known.first = Date.now()
    keepKnown(known)
  }
  return known
}

function keepKnown(known: Known): void {
  writeStorage(KNOWN, JSON.stringify(known))
}

function testsOf({ entries }: SiteFile): FactTest[] {
  return entries.flatMap(({ audience }) => (audience ? testsIn(audience) : []))
}

interface Shown {
  experiment: number
  variant: number
}

/** Notes that the page is open, and the variants that are shown on it. */
export function noteView(siteFile: SiteFile, shown: readonly Shown[]): void {
  const known = readKnown()
  const isNamed = testsOf(siteFile).some(({ page }) => page && matchesPageRule(page, location.href))
  if (isNamed) known.pages = [...known.pages, [location.href, Date.now()] as [string, number]].slice(-MOST_KEPT)
  keepKnown(known)
  noteVariants(shown)
}

export function noteVariants(shown: readonly Shown[]): void {
  if (shown.length === 0) return
  const known = readKnown()
  for (const { experiment, variant } of shown) known.variants[experiment] = variant
  keepKnown(known)
}

/**
 * What the page says of the visitor: `(window.vetch ||= []).push({ attributes: { plan: 'gold', seats: 4 } })`, and what it
 * calls for: `.push({ activate: 'offer' })`, and who it is: `.push({ person: 'customer-4711' })`.
 */
export function noteCommand(command: unknown): void {
  const { attributes: given, activate, person } = (command ?? {}) as Record<string, unknown>
  if (typeof person === 'string' || typeof person === 'number' || person === null) {
    givenPerson = person === null || person === '' ? undefined : String(person)
    onChange?.()
  }
  if (typeof activate === 'string') {
    called.push(activate)
    onChange?.()
  }
  if (typeof given !== 'object' || given === null) return
  attributes = { ...attributes, ...given }
  onChange?.()
}

/** Attributes that the page gave before the snippet came. */
export function noteWaiting(): void {
  const { vetch } = window as { vetch?: unknown }
  if (Array.isArray(vetch)) vetch.forEach(noteCommand)
}

/** What stands for the person whom the page has named, where anybody counts as one on every device. */
export function personNow({ key, persons }: SiteFile): string | undefined {
  return persons && givenPerson !== undefined ? personId(key, givenPerson) : undefined
}

/** What is told of that person: with its proof, where the page gives one. */
export function personToTell(siteFile: SiteFile): string | undefined {
  const person = personNow(siteFile)
  return person !== undefined && isProven(givenPerson!) ? givenPerson : person
}

/** What the page has said of the visitor, as far as the site keeps it. */
export const toldAttributes = (siteFile: SiteFile) => tellable(attributes, siteFile.attributes)
/** What the page says of an event, as far as the site keeps it. */
export const toldDetails = (siteFile: SiteFile, said: unknown) => tellable(said ?? {}, siteFile.details)

function tellable(said: object, kept: readonly string[] = []): CollectedView['attributes'] {
  const told: NonNullable<CollectedView['attributes']> = {}
  for (const name of kept) {
    const value = (said as Record<string, unknown>)[name]
    if (typeof value === 'string') told[name] = value.slice(0, LONGEST_VALUE)
    else if (typeof value === 'boolean' || (typeof value === 'number' && Number.isFinite(value))) told[name] = value
  }
  return Object.keys(told).length > 0 ? told : undefined
}

/** Notes an event that something waits for, or that a condition asks for. */
export function noteEvent(event: string, siteFile: SiteFile): void {
  happened.push(event)
  if (testsOf(siteFile).some(({ fact, name }) => fact === 'did' && name === event)) keepEvent(event)
  onChange?.()
}

function keepEvent(event: string): void {
  const known = readKnown()
  known.events = [...known.events, [event, Date.now()] as [string, number]].slice(-MOST_KEPT)
  keepKnown(known)
}

const asksPlace = ({ fact }: FactTest) => fact === 'country' || fact === 'region' || fact === 'city'

/** The place, looked up once in a session of the browser, and only where a condition asks for it. */
function placeOf(siteFile: SiteFile, base: string): Place {
  if (!testsOf(siteFile).some(asksPlace)) return {}
  place ??= safely(() => known(JSON.parse(sessionStorage.getItem(PLACE) ?? '') as Answered)) ?? null
  if (place || isPlaceAwaited) return place ?? {}
  isPlaceAwaited = true
  const settle = (found: Place) => {
    place = found
    isPlaceAwaited = false
    onChange?.()
  }
  fetch(`${base}/place?key=${siteFile.key}`)
    .then((reply) => (reply.ok ? (reply.json() as Promise<Answered>) : Promise.reject(new Error(reply.statusText))))
    .then((answer) => {
      safely(() => sessionStorage.setItem(PLACE, JSON.stringify(answer)))
      settle(known(answer))
    })
    .catch(guarded(() => settle({})))
  return {}
}

/** Without what the lookup files do not know. */
function known(answer: Answered): Place {
  return Object.fromEntries(Object.entries(answer).filter(([, value]) => value !== null))
}

export function forgetFacts(): void {
  attributes = {}
  givenPerson = undefined
  place = null
  writeStorage(KNOWN, null)
  safely(() => sessionStorage.removeItem(PLACE))
}
