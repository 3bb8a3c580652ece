import { expect, test } from 'vitest'
import type { Condition } from '../targeting/condition'
import { askedLanguages, languageFindings } from './languageFindings'

const language = (...texts: string[]): Condition => ({ fact: 'language', is: 'begins', texts })

test('the languages that an audience asks for are told, and not those that it rules out', () => {
  const audience: Condition = {
    join: 'all',
    of: [
      { join: 'any', of: [language('de', 'fr-CA'), { fact: 'language', is: 'oneOf', texts: ['DE-AT'] }] },
      { join: 'none', of: [language('nl')] },
      { fact: 'language', is: 'contains', texts: ['en'] },
      { fact: 'country', is: 'oneOf', texts: ['IE'] },
    ],
  }
  expect(askedLanguages(audience)).toEqual(['de', 'fr'])
  expect(askedLanguages(null)).toEqual([])
})

test('a page in another language is told; one that says nothing of it, or fits, is not', () => {
  const page = (path: string, isNamed: boolean, fits: boolean) => ({ path, isNamed, fits })
  const pages = [page('/', true, false), page('/de', true, true), page('/help', false, false)]
  expect(languageFindings(['de', 'fr'], pages).map(({ text }) => text)).toEqual([
    'The audience asks for German or French, and / says that it is in another language. Check whom the variants speak to.',
  ])
  expect(languageFindings([], pages)).toEqual([])
  expect(languageFindings(['de'], pages.slice(1))).toEqual([])
})
