import { murmurHash3 } from '../assignment/murmurHash3'

/** Where each person is one unit, their id begins so among those of visitors. No browser's id does. */
export const PERSON = '~'

const SEEDS = [11, 12, 13, 14]

/**
 * An id that a site's own server has made with its person key, and the proof that it has: see docs/targeting.md. Nobody
 * else can make one, so that nobody can claim to be somebody else.
 */
const PROVEN = /^[0-9a-f]{32}\.[0-9a-f]{32}$/

/** Whether a page gives an id with its proof. */
export function isProven(given: string): boolean {
  return PROVEN.test(given)
}

/**
 * What stands for a person in everything that is sent and kept: drawn from the id that a page gives, the same on every
 * device, and different on every site. The id itself stays in the browser.
 *
 * @param key - of the site
 * @param given - the page's own id of the person, such as a customer number
 * @returns 32 hexadecimal digits; of an id with its proof, the id
 * @example personId('KEY1', 'customer-4711') === personId('KEY1', 'customer-4711') // true
 */
export function personId(key: string, given: string): string {
  if (isProven(given)) return given.slice(0, 32)
  return SEEDS.map((seed) => murmurHash3(`${key}.${given}`, seed).toString(16).padStart(8, '0')).join('')
}
