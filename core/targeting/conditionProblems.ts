import { isGroup, type Audiences, type Condition, type FactTest } from './condition'
import { FACT_WORDS } from './conditionWords'

/** What conditions can never hold, or always do, said at once. */
export interface ConditionProblem {
  text: string
}

/**
 * Contradictions that can be seen without any visitor: nothing fits all of a group, a group that is empty, what a
 * group asks for and takes away.
 */
export function conditionProblems(condition: Condition): ConditionProblem[] {
  if (!isGroup(condition)) return testProblems(condition).map((text) => ({ text }))
  const { join, of } = condition
  const found = of.flatMap(conditionProblems)
  if (join === 'any' && of.length === 0) found.push({ text: 'Any of nothing is nobody: add a condition.' })
  if (join !== 'all') return found
  for (const text of contradictions(of)) found.push({ text })
  return found
}

function testProblems({ is, number, to, fact }: FactTest): string[] {
  if (is === 'between' && fact !== 'hour' && number !== undefined && to !== undefined && number > to)
    return [`${capital(FACT_WORDS[fact])}: nothing lies from ${number} to ${to}. Put the smaller one first.`]
  return []
}

function contradictions(of: readonly Condition[]): string[] {
  const found: string[] = []
  const tests = of.filter((each): each is FactTest => !isGroup(each))
  const denied = of.flatMap((each) => (isGroup(each) && each.join === 'none' ? each.of : []))
  for (const each of tests)
    if (denied.some((other) => JSON.stringify(other) === JSON.stringify(each)))
      found.push(`${capital(FACT_WORDS[each.fact])}: the same is asked for and ruled out, so nobody fits.`)
  for (const [index, one] of tests.entries())
    for (const other of tests.slice(index + 1))
      if (one.fact === other.fact && one.name === other.name && isDisjoint(one, other))
        found.push(`${capital(FACT_WORDS[one.fact])}: nobody fits both conditions. Did you mean any of them?`)
  return found
}

/** Whether no value fits both. Lists, what was done and what was seen can fit several. */
function isDisjoint(one: FactTest, other: FactTest): boolean {
  if (['did', 'seen', 'variant', 'audience'].includes(one.fact)) return false
  if (one.is === 'oneOf' && other.is === 'oneOf') {
    const texts = new Set(one.texts?.map((each) => each.toLowerCase()))
    return !other.texts?.some((each) => texts.has(each.toLowerCase()))
  }
  const [first, second] = [rangeOf(one), rangeOf(other)]
  return first !== null && second !== null && (first[0] > second[1] || second[0] > first[1])
}

function rangeOf({ is, number, to, fact }: FactTest): [number, number] | null {
  if (number === undefined || (fact === 'hour' && is === 'between' && number > (to ?? number))) return null
  if (is === 'least') return [number, Infinity]
  if (is === 'most') return [-Infinity, number]
  if (is === 'equals') return [number, number]
  return is === 'between' && to !== undefined ? [number, to] : null
}

/**
 * The first circle that saved audiences form through each other, by their numbers; null where there is none.
 *
 * @param start - number of the audience that is looked at
 * @param audiences - conditions of all of them, that one as it is to be
 */
export function circleOf(start: number, audiences: Audiences): number[] | null {
  const walk = (id: number, way: readonly number[]): number[] | null => {
    if (way.includes(id)) return [...way.slice(way.indexOf(id)), id]
    for (const next of audiencesIn(audiences[id])) {
      const circle = walk(next, [...way, id])
      if (circle) return circle
    }
    return null
  }
  return walk(start, [])
}

/** Numbers of the saved audiences that a condition names. */
export function audiencesIn(condition: Condition | undefined): number[] {
  if (!condition) return []
  if (isGroup(condition)) return [...new Set(condition.of.flatMap(audiencesIn))]
  return condition.fact === 'audience' && condition.id !== undefined ? [condition.id] : []
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}
