import type { Persona } from '../../core/targeting/persona'
import { array, lazy, mixed, number, object, string, type InferType, type Schema } from '../yup'

const word = (what: string, most = 200) => string().trim().max(most, `${what} is longer than ${most} characters.`)
const count = (what: string) =>
  number().typeError(`Type ${what} as a number.`).min(0, `${what} is at least 0.`).max(100_000, `${what} is too large.`)
const MOST_VALUES = 50

/** Values under names of their own. */
const values = (item: () => Schema) =>
  lazy((value: unknown) => {
    const names = typeof value === 'object' && value !== null && !Array.isArray(value) ? Object.keys(value) : []
    return object(Object.fromEntries(names.slice(0, MOST_VALUES).map((name) => [name, item()])))
      .test('most', `At most ${MOST_VALUES} values.`, () => names.length <= MOST_VALUES)
      .default(undefined)
  })

/** A made-up visitor; whatever is left out is not known of them. */
const personaFactsSchema = object({
  device: string().oneOf(['phone', 'tablet', 'desktop', 'other'], 'Choose a device.'),

  system: word('The system'),
  browser: word('The browser'),
  browserVersion: word('The version'),
  screenWidth: count('the screen width'),

  language: word('The language'),
  timeZone: word('The time zone'),
  country: word('The country'),

  region: word('The region'),
  city: word('The city'),
  landing: word('The landing page', 2000),
  referrer: word('The host'),
  person: word('The id'),
  visits: count('the number of visits'),
  daysSinceFirst: count('the days'),
  pages: array(
    object({ address: word('The page', 2000).required('Name the page.'), daysAgo: count('the days').required() }),
  ),
  events: array(object({ name: word('The event').required('Name the event.'), daysAgo: count('the days').required() })),
  attributes: values(() => mixed().defined()),
  cookies: values(() => word('A cookie', 1000).defined()),
  data: values(() => mixed().defined()),
})

export const personaSchema = object({
  name: word('The name', 80).required('Give the persona a name.'),
  facts: personaFactsSchema,
})
export type PersonaInput = Pick<InferType<typeof personaSchema>, 'name'> & { facts: Persona }

export const dryRunSchema = object({
  facts: personaFactsSchema,
  /** Of a saved persona its own; else somebody new. */
  visitor: word('The visitor', 60).matches(/^[\w-]+$/, 'An id has letters, digits, _ and - only.'),
  address: word('The address', 2000).required('Type the address of a page.'),
})
