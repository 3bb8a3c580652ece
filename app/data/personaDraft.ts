import { linesOfValues, valuesOfLines, type Persona } from '~~/core/targeting/persona'

/** A persona as it is typed: texts in fields, and lines of values. */
export interface PersonaDraft {
  device: '' | 'phone' | 'tablet' | 'desktop' | 'other'
  texts: Record<PersonaText, string>
  numbers: Record<PersonaNumber, string>
  attributes: string
  cookies: string
  data: string
  pages: string
  events: string
}

export const PERSONA_TEXTS = {
  system: 'Operating system',
  browser: 'Browser',
  browserVersion: 'Browser version',
  language: 'Language',

  country: 'Country',
  region: 'Region',
  city: 'City',
  timeZone: 'Time zone',

  landing: 'Landing page',
  referrer: 'Linked from',
  person: 'Id that the page gives',
} as const
export const PERSONA_NUMBERS = {
  screenWidth: 'Screen width',
  visits: 'Visits',
  daysSinceFirst: 'Days since the first',
} as const
export type PersonaText = keyof typeof PERSONA_TEXTS
export type PersonaNumber = keyof typeof PERSONA_NUMBERS
const TEXTS = Object.keys(PERSONA_TEXTS) as PersonaText[]
const NUMBERS = Object.keys(PERSONA_NUMBERS) as PersonaNumber[]

/** What is typed for a persona; a first one to begin with. */
export function draftOfPersona(persona: Persona): PersonaDraft {
  const lines = (values: Readonly<Record<string, unknown>> | undefined) => linesOfValues(values ?? {})
  const agoLines = (each: readonly { daysAgo: number }[] | undefined, name: (one: never) => string) =>
    (each ?? []).map((one) => `${name(one as never)} = ${one.daysAgo}`).join('\n')
  return {
    device: (persona.device ?? '') as PersonaDraft['device'],
    texts: Object.fromEntries(TEXTS.map((name) => [name, persona[name] ?? ''])) as PersonaDraft['texts'],
    numbers: Object.fromEntries(
      NUMBERS.map((name) => [name, persona[name] === undefined ? '' : String(persona[name])]),
    ) as PersonaDraft['numbers'],
    attributes: lines(persona.attributes),
    cookies: lines(persona.cookies),
    data: lines(persona.data),
    pages: agoLines(persona.pages, ({ address }: { address: string }) => address),
    events: agoLines(persona.events, ({ name }: { name: string }) => name),
  }
}

/**
 * The persona that is typed; fields that are left empty are not known of it.
 *
 * @throws SyntaxError with a sentence for a line that is none
 */
export function personaOfDraft(draft: PersonaDraft): Persona {
  const given = <Value>(entries: [string, Value][]) => Object.fromEntries(entries)
  const texts = TEXTS.flatMap((name): [string, string][] => {
    const text = draft.texts[name].trim()
    return text === '' ? [] : [[name, text]]
  })
  // What is no number stays as it is typed: whoever checks it says so.
  const numbers = NUMBERS.flatMap((name): [string, unknown][] => {
    const text = draft.numbers[name].trim()
    return text === '' ? [] : [[name, Number.isNaN(Number(text)) ? text : Number(text)]]
  })
  const values = (lines: string) => (lines.trim() === '' ? undefined : valuesOfLines(lines))
  const ago = (lines: string) =>
    Object.entries(valuesOfLines(lines)).map(([name, days]) => ({ name, daysAgo: days as number }))
  const cookies = values(draft.cookies)
  return {
    ...(draft.device === '' ? {} : { device: draft.device }),
    ...given(texts),
    ...given(numbers),
    attributes: values(draft.attributes),
    cookies: cookies && Object.fromEntries(Object.entries(cookies).map(([name, value]) => [name, String(value)])),
    data: nested(values(draft.data)),
    pages: ago(draft.pages).map(({ name, daysAgo }) => ({ address: name, daysAgo })),
    events: ago(draft.events),
  }
}

/** Ways such as basket.total as objects within each other, as the page has them. */
function nested(values: Record<string, unknown> | undefined): Record<string, unknown> | undefined {
  if (!values) return undefined
  const root: Record<string, unknown> = {}
  for (const [way, value] of Object.entries(values)) {
    const steps = way.split('.')
    let at = root
    for (const step of steps.slice(0, -1)) {
      const inside = Object.hasOwn(at, step) ? at[step] : undefined
      const next = typeof inside === 'object' && inside !== null ? (inside as Record<string, unknown>) : {}
      Object.defineProperty(at, step, { value: next, enumerable: true, configurable: true, writable: true })
      at = next
    }
    Object.defineProperty(at, steps.at(-1)!, { value, enumerable: true, configurable: true, writable: true })
  }
  return root
}
