import { createHmac } from 'node:crypto'
import { expect, test } from 'vitest'
import { isProven, personId } from './personId'
import { keyedPerson, proofOf, provenPerson } from './provenPerson'

const KEY = 'a-key-of-the-site'
/** As a site's own server computes it: what docs/targeting.md says. */
const given = (id: string, key = KEY) => {
  const mac = (text: string) => createHmac('sha256', key).update(text).digest('hex').slice(0, 32)
  return `${mac(`person.${id}`)}.${mac(`proof.${mac(`person.${id}`)}`)}`
}

test('a person is who their site’s own server says, and nobody else', () => {
  const [person, proof] = given('customer-4711').split('.') as [string, string]
  expect([keyedPerson('customer-4711', KEY), proofOf(person, KEY)]).toEqual([person, proof])
  expect(provenPerson(given('customer-4711'), KEY)).toBe(person)
  const other = given('customer-4712').split('.')[1]
  for (const forged of [person, `${person}.`, `${person}.${other}`, `${person}.${proof.slice(1)}`, given('x', 'k')])
    expect(provenPerson(forged, KEY)).toBeNull()
  expect(provenPerson(undefined, KEY)).toBeNull()
  // Where no proof is asked for, one does no harm.
  expect(provenPerson(given('customer-4711'), null)).toBe(person)
  expect(provenPerson(person, null)).toBe(person)
})

test('what a browser decides by is the id without its proof', () => {
  expect(isProven(given('customer-4711'))).toBe(true)
  expect(personId('SITE', given('customer-4711'))).toBe(keyedPerson('customer-4711', KEY))
  for (const plain of ['customer-4711', '', given('a').slice(0, 64), `${given('a')}0`])
    expect(isProven(plain)).toBe(false)
})
