/** What the page's code says of an event beside its amount, by names: { vehicle: 'car', seats: 4 }. */
export type EventDetails = Readonly<Record<string, string | number | boolean>>

/** How a detail of an event is compared. */
export const DETAIL_COMPARISONS = ['known', 'oneOf', 'least', 'most'] as const

/** What an event must say to be counted. One that does not say it is not counted, nor one of another type. */
export interface DetailTest {
  name: string
  is: (typeof DETAIL_COMPARISONS)[number]
  /** For `oneOf`, any of them: large and small letters are the same, and numbers, yes and no are as they are written. */
  texts?: readonly string[]
  /** For `least` and `most`. */
  number?: number | null
}

/**
 * Whether the details of an event are what a test asks for.
 *
 * @example saysDetail({ name: 'vehicle', is: 'oneOf', texts: ['Car', 'van'] }, { vehicle: 'car' }) // true
 */
export function saysDetail(test: DetailTest, details: EventDetails | null | undefined): boolean {
  // Names are the site's own choice: one such as `constructor` is no detail that every event has.
  if (!details || !Object.hasOwn(details, test.name)) return false
  const value = details[test.name]
  const { texts = [], number } = test
  if (test.is === 'known') return true
  if (test.is === 'oneOf') return texts.some((text) => text.toLowerCase() === String(value).toLowerCase())
  if (typeof value !== 'number' || typeof number !== 'number') return false
  return test.is === 'least' ? value >= number : value <= number
}

/** A test as half a sentence: “vehicle is car or van”. */
export function detailInWords({ name, is, texts = [], number }: DetailTest): string {
  if (is === 'known') return `${name} is said`
  if (is === 'oneOf') return `${name} is ${texts.join(' or ')}`
  return `${name} is at ${is} ${number}`
}
