import type { Circumstances, VisitorFacts } from './visitorFacts'
import { DAY } from '../time/units'

/** Facts that are typed as browsers know them; the rest hangs on the moment. */
type PlainFact = keyof Circumstances | 'landing' | 'cookies' | 'data'

/** A made-up visitor. Everything that is absent is not known, as it may be of a real one. */
export interface Persona extends Partial<Pick<VisitorFacts, PlainFact>> {
  daysSinceFirst?: number
  /** The page's own id of the person. */
  person?: string
  /** Pages that were seen and events that were sent before, with how long ago. */
  pages?: readonly { address: string; daysAgo: number }[]
  events?: readonly { name: string; daysAgo: number }[]
}

/** What decides besides the persona: when, where on the site, and what the site has set. */
export interface PersonaMoment extends Pick<VisitorFacts, 'siteTimeZone' | 'adParameters' | 'variants'> {
  /** ms since 1970 */
  now: number
  address: string
}

/**
 * A persona as a visitor at a moment, on a page.
 *
 * @example factsOfPersona({ device: 'phone', daysSinceFirst: 2 }, { now: 172_800_000, address: 'https://kc.test/' })
 * // { device: 'phone', now: 172800000, address: 'https://kc.test/', firstSeen: 0, pages: [], events: [], … }
 */
export function factsOfPersona(persona: Persona, moment: PersonaMoment): VisitorFacts {
  const { daysSinceFirst, person: _, pages = [], events = [], landing, referrer, cookies = {}, ...known } = persona
  const ago = (days: number) => moment.now - days * DAY
  return {
    ...known,
    ...moment,
    cookies,
    landing: landing ?? moment.address,
    referrer: referrer ?? '',
    firstSeen: daysSinceFirst === undefined ? undefined : ago(daysSinceFirst),
    pages: pages.map(({ address, daysAgo }) => ({ address, at: ago(daysAgo) })),
    events: events.map(({ name, daysAgo }) => ({ name, at: ago(daysAgo) })),
  }
}

/**
 * Values that are typed line by line, as `plan = gold`: yes, no, numbers and lists such as `[a, b]` are taken as such,
 * text in quotes as text.
 *
 * @throws SyntaxError with a sentence for a line that is none
 * @example valuesOfLines('plan = gold\nseats = 4') // { plan: 'gold', seats: 4 }
 */
export function valuesOfLines(lines: string): Record<string, unknown> {
  const values: Record<string, unknown> = {}
  for (const line of lines.split('\n').map((each) => each.trim())) {
    if (line === '') continue
    const [, name, value] = /^([^=]+?)\s*=\s*(.*)$/.exec(line) ?? []
    if (name === undefined) throw new SyntaxError(`“${line}” is no line such as plan = gold.`)
    values[name] = valueOf(value ?? '')
  }
  return values
}

/** Values as lines that are read as the same values again. */
export function linesOfValues(values: Readonly<Record<string, unknown>>): string {
  return Object.entries(values)
    .map(([name, value]) => `${name} = ${inText(value)}`)
    .join('\n')
}

function valueOf(text: string): unknown {
  if (text === 'yes' || text === 'no') return text === 'yes'
  if (text !== '' && Number.isFinite(Number(text))) return Number(text)
  if (/^\[.*\]$/.test(text))
    return text
      .slice(1, -1)
      .split(',')
      .map((each) => each.trim())
      .filter((each) => each !== '')
      .map(valueOf)
  return /^".*"$/.test(text) ? text.slice(1, -1) : text
}

function inText(value: unknown): string {
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (Array.isArray(value)) return `[${value.map(inText).join(', ')}]`
  if (typeof value !== 'string') return String(value)
  return valueOf(value) === value ? value : `"${value}"`
}
