import { activationInWords, type Activation } from '../targeting/activation'

/** A share that visitors begin with, for so many days. */
export interface RampStep {
  /** Of 10,000 buckets. */
  share: number
  days: number
}

/** On which terms an experiment takes its visitors. */
export interface SheetTerms {
  /** Who is one unit: a visitor, or a person by an id that the page gives. */
  unit: 'visitor' | 'person'
  /** Id of the group of experiments that exclude each other; null for one that stands alone. */
  group: number | null
  /** Of a group whose experiments take turns: the lowest is asked first. */
  rank: number
  /** When it takes effect on a page; null for as the page loads. */
  activation: Activation | null
  /** Takes back what it has changed once its conditions no longer hold; else that stays for the page view. */
  leaves: boolean
  /** Shares before the traffic share, from the smallest on. */
  ramp: RampStep[]
  /**
   * Of a personalization, ids of tests whose visitors do not get it while they run. All other tests have it in all of
   * their variants.
   */
  apartFrom?: number[]
}

/** Terms of an experiment for which nobody has chosen any. */
export const PLAIN_TERMS: SheetTerms = {
  unit: 'visitor',
  group: null,
  rank: 1,
  activation: null,
  leaves: false,
  ramp: [],
}

/**
 * Terms in a sentence, without what is as it is anyhow.
 *
 * @param groups - names of groups by their ids
 * @example termsInWords({ ...PLAIN_TERMS, ramp: [{ share: 500, days: 2 }] }) // '5 % for 2 days at first'
 */
export function termsInWords(terms: SheetTerms, groups: Readonly<Record<number, string>> = {}): string {
  const { unit, group, activation, leaves, ramp, apartFrom = [] } = terms
  const steps = ramp.map(({ share, days }) => `${share / 100} % for ${days} ${days === 1 ? 'day' : 'days'}`)
  const parts = [
    unit === 'person' ? 'each person is one, on every device' : '',
    group === null ? '' : `in the group ${groups[group] ? `“${groups[group]}”` : group}`,
    activation ? `takes effect ${activationInWords(activation)}` : '',
    leaves ? 'ends on the page when the audience no longer holds' : '',
    apartFrom.length === 0
      ? ''
      : `not for visitors of ${apartFrom.length === 1 ? 'a test' : `${apartFrom.length} tests`} beside it`,
    steps.length > 0 ? `${steps.join(', then ')} at first` : '',
  ]
  return parts.filter((part) => part !== '').join('; ') || 'defaults'
}
