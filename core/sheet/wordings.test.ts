import { expect, test } from 'vitest'
import type { Group } from '../targeting/condition'
import { askedAudience, fittingWording, measuredVariants, wholeAudience, wordingAudiences } from './wordings'

const asks = (text: string): Group => ({ join: 'all', of: [{ fact: 'country', is: 'oneOf', texts: [text] }] })
const variant = (name: string, weight: number, audience?: Group | null) => ({
  id: name,
  name,
  weight,
  edits: [],
  audience,
})
const [held, german, french, rest] = [
  variant('Held back', 500),
  variant('Hallo', 9500, asks('DE')),
  variant('Bonjour', 0, asks('FR')),
  variant('Hello', 0),
]

test('all who are served are measured as one, and a test as it is', () => {
  expect(measuredVariants({ purpose: 'serve', variants: [held, german, french] })).toEqual([
    held,
    { ...german, name: 'Served', weight: 9500 },
  ])
  // Whichever wording comes first, as many are held back.
  expect(measuredVariants({ purpose: 'serve', variants: [held, rest] })).toEqual([held, { ...rest, weight: 9500 }])
  expect(measuredVariants({ purpose: 'test', variants: [held, german, french] })).toEqual([held, german, french])
})

test('whom no wording fits is not of the audience; one for everybody fits the rest', () => {
  const sheet = { purpose: 'serve', variants: [held, german, french] } as const
  const either = { join: 'any', of: [asks('DE'), asks('FR')] }
  expect(wholeAudience({ ...sheet, audience: null })).toEqual(either)
  expect(wholeAudience({ ...sheet, audience: asks('EU') })).toEqual({ join: 'all', of: [asks('EU'), either] })
  expect(wholeAudience({ ...sheet, variants: [held, german, rest], audience: null })).toBeNull()
  expect(wholeAudience({ purpose: 'test', variants: [held, german], audience: null })).toBeNull()
  expect(wordingAudiences({ purpose: 'serve', variants: [held, rest] })).toBeNull()
})

test('what wordings ask for is known, also where one is for everybody', () => {
  const sheet = { purpose: 'serve', variants: [held, german, rest], audience: null } as const
  expect(askedAudience(sheet)).toEqual({ join: 'any', of: [asks('DE')] })
  expect(askedAudience({ ...sheet, variants: [held, rest] })).toBeNull()
  expect(askedAudience({ ...sheet, purpose: 'test', audience: asks('EU') })).toEqual({ join: 'any', of: [asks('EU')] })
})

test('the first wording that fits is taken', () => {
  const from = (country: string) => (audience: Group) =>
    audience.of.some((each) => JSON.stringify(each).includes(country))
  const audiences = wordingAudiences({ purpose: 'serve', variants: [held, german, french, rest] })!
  expect(['DE', 'FR', 'IE'].map((country) => fittingWording(audiences, from(country)))).toEqual([0, 1, 2])
  expect(fittingWording([null, asks('DE')], from('DE'))).toBe(0)
})
