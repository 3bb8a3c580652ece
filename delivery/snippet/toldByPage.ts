import { isProven, personId } from '../../core/identity/personId'
import type { SiteFile } from '../../shared/delivery/siteFile'
import type { CollectedView } from '../../shared/intake/collect'
import { tellChange } from './factChanges'
import { noteCall } from './happenings'

/** Of one attribute that is told with a view. */
const LONGEST_VALUE = 100

let attributes: Record<string, unknown> = {}
/** The page's own id of the person, as it is given; it is told to nobody. */
let givenPerson: string | undefined

/** What the page has said of the visitor, by names. */
export const saidAttributes = () => attributes

/**
 * What the page says of the visitor: `(window.vetch ||= []).push({ attributes: { plan: 'gold', seats: 4 } })`, and what it
 * calls for: `.push({ activate: 'offer' })`, and who it is: `.push({ person: 'customer-4711' })`.
 */
export function noteCommand(command: unknown): void {
  const { attributes: given, activate, person } = (command ?? {}) as Record<string, unknown>
  if (typeof person === 'string' || typeof person === 'number' || person === null) {
    givenPerson = person === null || person === '' ? undefined : String(person)
    tellChange()
  }
  if (typeof activate === 'string') {
    noteCall(activate)
    tellChange()
  }
  if (typeof given !== 'object' || given === null) return
  attributes = { ...attributes, ...given }
  tellChange()
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

/** With withdrawn consent. */
export function forgetTold(): void {
  attributes = {}
  givenPerson = undefined
}
