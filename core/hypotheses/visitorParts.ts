import { answers, isGroup, testsIn, type Condition, type FactTest, type Group } from '../targeting/condition'
import type { Fact } from '../targeting/visitorFacts'

/** What a visitor is for good: their id lives in one browser on one device. */
export const LASTING = ['device', 'system', 'browser'] as const satisfies readonly Fact[]
type Lasting = (typeof LASTING)[number]

/** More parts than this make a plan slow, and nobody's page is shared out so finely. */
const MOST_PARTS = 48

/** One of the parts: of each fact that is asked for, a value in small letters, or null for all that nobody names. */
type Part = Partial<Record<Lasting, string | null>>

/**
 * Splits the visitors of a site into parts that have nobody in common, so that tests for different parts can run on one
 * page at a time. Only what a visitor is for good tells parts apart: somebody who is new today comes back tomorrow.
 *
 * @param audiences - conditions of tests; null for everybody
 * @returns for each audience the numbers of the parts whose visitors it may let in: two audiences without a part in
 *   common have no visitor in common. Everybody is one part where audiences would make more than 48.
 * @example visitorParts([PHONES, DESKTOPS, null]) // [[1], [0], [0, 1, 2]]: desktops, phones, and all else
 */
export function visitorParts(audiences: readonly (Group | null)[]): number[][] {
  const asked = audiences.flatMap((audience) => (audience ? testsIn(audience) : [])).filter(isLasting)
  const parts = LASTING.reduce<Part[]>(
    (all, fact) => {
      const named = asked.filter((test) => test.fact === fact).flatMap(({ texts = [] }) => texts)
      const values = [...new Set(named.map((text) => text.toLowerCase()))].sort()
      if (values.length === 0) return all
      return all.flatMap((part) => [...values, null].map((value) => ({ ...part, [fact]: value })))
    },
    [{}],
  )
  if (parts.length > MOST_PARTS) return audiences.map(() => [0])
  return audiences.map((audience) =>
    parts.flatMap((part, index) => (audience && decided(audience, part) === false ? [] : [index])),
  )
}

function isLasting(test: FactTest): boolean {
  return test.is === 'oneOf' && LASTING.some((fact) => fact === test.fact)
}

/**
 * Whether visitors of a part fulfil a condition: all of them, none of them, or null where it depends on more.
 *
 * @see Kleene (1952), Introduction to Metamathematics, § 64, for joining what is not known
 */
function decided(condition: Condition, part: Part): boolean | null {
  if (!isGroup(condition)) {
    if (!isLasting(condition)) return null
    return answers(condition, part[condition.fact as Lasting] ?? null)
  }
  const found = condition.of.map((each) => decided(each, part))
  if (condition.join === 'all') return found.includes(false) ? false : found.includes(null) ? null : true
  const any = found.includes(true) ? true : found.includes(null) ? null : false
  return condition.join === 'any' ? any : any === null ? null : !any
}
