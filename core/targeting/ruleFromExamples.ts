import { matchesPage, type PageRule } from './pageRule'
import { readAddress } from './readAddress'

/** Rules that tell addresses apart, and what else they let in. */
export interface ProposedRules {
  rules: PageRule[]
  /** Addresses that were not marked, and that they let in too. */
  others: string[]
}

const MOST_PROPOSALS = 3
/** More rules than these nobody reads: addresses that have nothing in common are better listed by hand. */
const MOST_RULES = 6

/**
 * The shortest rules that let in every address of one kind and none of the other: one rule, else one with another that
 * takes away, else one for each beginning of a path, else each address by itself.
 *
 * @param included - addresses to let in, at least one
 * @param excluded - addresses to keep out
 * @param all - addresses that occur, for telling what else is let in
 * @returns the best proposals first; empty where an address is marked as both, or nothing short tells them apart
 */
export function rulesFromExamples(
  included: readonly string[],
  excluded: readonly string[],
  all: readonly string[],
): ProposedRules[] {
  if (included.length === 0) return []
  const separates = (rules: readonly PageRule[]) =>
    included.every((address) => matchesPage(rules, address)) && !excluded.some((address) => matchesPage(rules, address))
  const marked = new Set([...included, ...excluded])
  // Where all have one host, it tells nothing apart.
  const hosts = new Set([...marked, ...all].map((address) => readAddress(address)?.host))
  const saysSomething = (rules: readonly PageRule[]) => hosts.size > 1 || !rules.some(({ part }) => part === 'host')
  const found = [
    ...rulesOf(included).map((rule) => [rule]),
    ...withExclusion(included, excluded),
    byBeginning(included, excluded),
    included.map(exactly),
  ].filter((rules) => rules.length > 0 && rules.length <= MOST_RULES && saysSomething(rules) && separates(rules))
  const seen = new Set<string>()
  return found
    .filter((rules) => !seen.has(JSON.stringify(rules)) && seen.add(JSON.stringify(rules)))
    .map((rules) => ({ rules, others: all.filter((address) => !marked.has(address) && matchesPage(rules, address)) }))
    .sort((one, other) => lengthOf(one.rules) - lengthOf(other.rules) || one.others.length - other.others.length)
    .slice(0, MOST_PROPOSALS)
}

/** What there is to read, in characters; a text that may stand anywhere is the last that one would write. */
function lengthOf(rules: readonly PageRule[]): number {
  const length = ({ value, match, parameter }: PageRule) =>
    value.length + (parameter?.length ?? 0) + costOf(match, value)
  return rules.reduce((sum, rule) => sum + 20 + length(rule), 0)
}

function costOf(match: PageRule['match'], value: string): number {
  if (match === 'exact') return 0
  if (match === 'begins' || match === 'present') return 2
  return match === 'ends' && value.startsWith('/') ? 6 : match === 'wildcards' ? 7 : 12
}

function withExclusion(included: readonly string[], excluded: readonly string[]): PageRule[][] {
  return rulesOf(included).flatMap((rule) => {
    const caught = excluded.filter((address) => matchesPage([rule], address))
    return caught.length === 0 ? [] : rulesOf(caught).map((wrong) => [rule, { ...wrong, isExcluded: true }])
  })
}

/** For each first part of a path the shortest rule that keeps out what is to be kept out. */
function byBeginning(included: readonly string[], excluded: readonly string[]): PageRule[] {
  const groups = new Map<string, string[]>()
  for (const address of included) {
    const first = pathOf(address).split('/')[1] ?? ''
    groups.set(first, [...(groups.get(first) ?? []), address])
  }
  return [...groups.values()].flatMap((group): PageRule[] => {
    const [best] = rulesOf(group)
      .filter((rule) => !excluded.some((address) => matchesPage([rule], address)))
      .sort((one, other) => lengthOf([one]) - lengthOf([other]))
    return best ? [best] : group.map(exactly)
  })
}

function exactly(address: string): PageRule {
  return { match: 'exact', value: pathOf(address) }
}

/** Single rules that let in all of some addresses. */
function rulesOf(addresses: readonly string[]): PageRule[] {
  const paths = addresses.map(pathOf)
  const [first = ''] = paths
  const shortest = paths.reduce((one, other) => (other.length < one.length ? other : one), first)
  const rules: PageRule[] = [exactly(addresses[0]!)]
  for (const value of beginnings(shortest)) rules.push({ match: 'begins', value })
  for (const value of pieces(shortest)) {
    rules.push({ match: 'contains', value })
    if (shortest.endsWith(value)) rules.push({ match: 'ends', value })
  }
  for (const begin of beginnings(shortest))
    for (const end of pieces(first).filter((piece) => first.endsWith(piece)))
      rules.push({ match: 'wildcards', value: `${begin}*${end}` })
  for (const [parameter, value] of parametersOf(addresses[0]!)) {
    rules.push({ match: 'present', part: 'parameter', parameter, value: '' })
    if (value !== '') rules.push({ match: 'exact', part: 'parameter', parameter, value })
  }
  rules.push({ match: 'exact', part: 'host', value: readAddress(addresses[0]!)?.host ?? '' })
  return rules.filter((rule) => addresses.every((address) => matchesPage([rule], address)))
}

/** `/a/`, `/a/b/` and `/a/b/c` of `/a/b/c`: what a path begins with, by its parts. */
function beginnings(path: string): string[] {
  const parts = path.split('/').slice(1)
  return parts.map((_, index) => `/${parts.slice(0, index + 1).join('/')}${index < parts.length - 1 ? '/' : ''}`)
}

/** Parts of a path with the slash before them, and words in them. */
function pieces(path: string): string[] {
  const parts = path.split('/').filter(Boolean)
  const words = parts.flatMap((part) => part.split(/[-_.]/)).filter((word) => word.length > 2)
  return [...new Set([...parts.map((part) => `/${part}`), ...words])]
}

function pathOf(address: string): string {
  const path = readAddress(address)?.pathname ?? address
  try {
    return decodeURI(path)
  } catch {
    return path
  }
}

function parametersOf(address: string): [string, string][] {
  return [...(readAddress(address)?.searchParams ?? [])]
}
