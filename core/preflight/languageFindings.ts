import { isGroup, type Condition } from '../targeting/condition'
import type { PreflightFinding } from './preflight'

/** A page with what it says of its language. */
export interface SpokenPage {
  path: string
  /** Whether it names a language at all. */
  isNamed: boolean
  /** Whether it is in one of the languages that are asked for. */
  fits: boolean
}

/**
 * The languages that an audience asks its visitors to have, in two letters; none where it asks for none, or only rules
 * some out.
 *
 * @example askedLanguages({ join: 'all', of: [{ fact: 'language', is: 'begins', texts: ['de', 'fr-CA'] }] }) // ['de', 'fr']
 */
export function askedLanguages(audience: Condition | null): string[] {
  if (!audience) return []
  if (isGroup(audience)) return audience.join === 'none' ? [] : [...new Set(audience.of.flatMap(askedLanguages))]
  const { fact, is, texts = [] } = audience
  if (fact !== 'language' || (is !== 'oneOf' && is !== 'begins')) return []
  return texts.map((text) => text.slice(0, 2).toLowerCase()).filter((text) => /^[a-z]{2}$/.test(text))
}

/** Finds, among the elements of a page, whether it names its language and whether that is one of those asked for. */
export const NAMES_LANGUAGE = 'html[lang]'
export const languageSelector = (language: string) => `html[lang|="${language}" i]`

/** Tells where an audience has other languages than the page that it comes to. */
export function languageFindings(languages: readonly string[], pages: readonly SpokenPage[]): PreflightFinding[] {
  const other = pages.filter(({ isNamed, fits }) => isNamed && !fits)
  if (languages.length === 0 || other.length === 0) return []
  const names = new Intl.DisplayNames(['en'], { type: 'language' })
  const asked = languages.map((language) => names.of(language) ?? language).join(' or ')
  const paths = other.map(({ path }) => path).join(', ')
  return [
    {
      section: 'who',
      isStop: false,
      text: `The audience asks for ${asked}, and ${paths} ${other.length === 1 ? 'says that it is' : 'say that they are'} in another language. Check whom the variants speak to.`,
    },
  ]
}
