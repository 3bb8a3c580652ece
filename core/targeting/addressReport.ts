import { beginningPath, isSameRule, matchesPageRule, type PageRule } from './pageRule'

/** An address that occurred, with the visitors who saw it. */
export interface OccurredAddress {
  address: string
  /** A day, on average. */
  visitors: number
}

export interface JudgedAddress extends OccurredAddress {
  isIn: boolean
  /** Position of the rule that decides: the one that lets it in, or takes it away; null where none fits. */
  by: number | null
}

/**
 * What rules do with the addresses that occurred: whether each is in, and by which rule.
 *
 * @example judgeAddresses([{ match: 'begins', value: '/book' }], [{ address: 'https://a.test/book', visitors: 3 }])
 * // [{ address: 'https://a.test/book', visitors: 3, isIn: true, by: 0 }]
 */
export function judgeAddresses(rules: readonly PageRule[], addresses: readonly OccurredAddress[]): JudgedAddress[] {
  const letsAllIn = rules.length > 0 && rules.every(({ isExcluded }) => isExcluded)
  return addresses.map((each) => {
    const taking = rules.findIndex((rule) => rule.isExcluded && matchesPageRule(rule, each.address))
    if (taking >= 0) return { ...each, isIn: false, by: taking }
    const letting = rules.findIndex((rule) => !rule.isExcluded && matchesPageRule(rule, each.address))
    return { ...each, isIn: letting >= 0 || letsAllIn, by: letting < 0 ? null : letting }
  })
}

export interface RuleProblem {
  /** Position of the rule. */
  rule: number
  text: string
}

/** Rules that do nothing with what occurred: let nothing in, let everything in, or stand beside one that says the same. */
export function idleRules(rules: readonly PageRule[], addresses: readonly OccurredAddress[]): RuleProblem[] {
  if (addresses.length === 0) return []
  const fits = rules.map((rule) => addresses.filter(({ address }) => matchesPageRule(rule, address)).length)
  const isEvery = (rule: PageRule) => beginningPath(rule) === '/' && rule.match === 'begins'
  return rules.flatMap((rule, index): RuleProblem[] => {
    const say = (text: string) => [{ rule: index, text }]
    if (rules.some((other, at) => at < index && isSameRule(other, rule))) return say('The same rule stands above.')
    if (fits[index] === 0) return say('No address of the last four weeks fits this rule.')
    if (rule.isExcluded && fits[index] === addresses.length) return say('This rule takes every address away.')
    if (addresses.length > 1 && fits[index] === addresses.length && !isEvery(rule))
      return say('Every address of the last four weeks fits this rule.')
    return []
  })
}
