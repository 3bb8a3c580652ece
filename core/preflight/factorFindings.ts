import { isOfElement, type Edit } from '../edits/content'
import { describeElement } from '../edits/element'
import { changedBy, editName } from '../edits/edit'
import { allCombinations } from '../factors/combinations'
import type { SheetFactor, SheetLevel } from '../sheet/content'
import type { PreflightFinding } from './preflight'

/** Combinations that can run at once. */
export const MOST_COMBINATIONS_ON = 10

/** A level as preflight calls it, in the place of a variant: what is wrong with it is said once, not of each combination. */
export interface NamedLevel {
  name: string
  edits: Edit[]
}

/** The levels that change something: all but the first of each factor. */
export function changedLevels(factors: readonly SheetFactor[]): NamedLevel[] {
  return factors.flatMap((factor) =>
    factor.levels.slice(1).map(({ name, edits }) => ({ name: `${factor.name}, ${name}`, edits })),
  )
}

/**
 * What is missing or wrong about the factors of a multivariate test, and where two of them get into each other's way.
 *
 * @param factors - empty for an A/B test, of which nothing is said
 */
export function factorFindings(
  factors: readonly SheetFactor[],
  combinationsOff: readonly { id: string }[],
): PreflightFinding[] {
  if (factors.length === 0) return []
  return [
    ...structureProblems(factors).map(stop),
    ...(factors.every(({ levels }) => levels.length > 1)
      ? combinationProblems(factors, combinationsOff).map(stop)
      : []),
    ...factorConflicts(factors),
  ]
}

function stop(text: string): PreflightFinding {
  return { section: 'what', isStop: true, text }
}

function structureProblems(factors: readonly SheetFactor[]): string[] {
  const problems: string[] = []
  if (factors.length < 2) problems.push('A multivariate test has two factors or more. Add one, or make it an A/B test.')
  if (hasTwice(factors)) problems.push('Two factors have the same name. Rename one.')
  for (const { name, levels } of factors) {
    if (levels.length < 2)
      problems.push(`${name} has one level, so it does not vary. Add a level, or remove the factor.`)
    if (hasTwice(levels)) problems.push(`Two levels of ${name} have the same name. Rename one.`)
    if (levels[0]?.edits.some(({ isOff }) => !isOff))
      problems.push(`${name}: the first level is the page as it is. Remove its edits.`)
    if (levels.some(({ edits }) => edits.some(({ kind, isOff }) => kind === 'redirect' && !isOff)))
      problems.push(`${name} sends visitors to another page, which cannot be combined. Make it an A/B test.`)
  }
  return problems
}

function hasTwice(things: readonly { name: string }[]): boolean {
  return new Set(things.map(({ name }) => name.trim().toLowerCase())).size < things.length
}

function combinationProblems(factors: readonly SheetFactor[], off: readonly { id: string }[]): string[] {
  const on = allCombinations(factors, off).filter(({ isOn }) => isOn)
  const problems: string[] = []
  if (on.length > MOST_COMBINATIONS_ON)
    problems.push(
      `${on.length} combinations are on, and at most ${MOST_COMBINATIONS_ON} run at once. Switch some off, or take the balanced fraction.`,
    )
  for (const { name, levels } of factors) {
    const unseen = levels.filter((level) => !on.some((combination) => combination.levels.includes(level)))
    for (const level of unseen) problems.push(`${name}, ${level.name} is in no combination that is on. Switch one on.`)
  }
  return problems
}

/** Pairs of edits of two factors that meet in some combination and get into each other's way, each pair of levels once. */
function factorConflicts(factors: readonly SheetFactor[]): PreflightFinding[] {
  const findings: PreflightFinding[] = []
  for (const [place, factor] of factors.entries()) {
    for (const other of factors.slice(place + 1)) {
      for (const level of factor.levels)
        for (const otherLevel of other.levels) {
          const found = worstConflict(level, otherLevel)
          if (found) findings.push(inWords(`${factor.name}, ${level.name}`, `${other.name}, ${otherLevel.name}`, found))
        }
    }
  }
  return findings
}

interface Conflict {
  kind: 'same' | 'taken' | 'beside'
  edit: Edit
}

function worstConflict(level: SheetLevel, other: SheetLevel): Conflict | null {
  const found = level.edits.flatMap((edit) => other.edits.flatMap((beside) => conflictOf(edit, beside) ?? []))
  return (['same', 'taken', 'beside'] as const).flatMap((kind) => found.filter((each) => each.kind === kind))[0] ?? null
}

/** How an edit fares beside one of another factor; null where they have nothing to do with each other. */
function conflictOf(edit: Edit, beside: Edit): Conflict | null {
  if (edit.isOff || beside.isOff) return null
  const name = changedBy(edit)
  if (name !== null && name === changedBy(beside)) return { kind: 'same', edit }
  if (!isOfElement(edit) || !isOfElement(beside)) return null
  const own = edit as Edit & { selector: string }
  const { selector } = beside as Edit & { selector: string }
  if (own.selector === selector) return { kind: takesAway(edit) || takesAway(beside) ? 'taken' : 'beside', edit }
  if (isInside(own.selector, selector) && writesAnew(beside)) return { kind: 'taken', edit }
  return isInside(selector, own.selector) && writesAnew(edit) ? { kind: 'taken', edit: beside } : null
}

function takesAway({ kind }: Edit): boolean {
  return kind === 'remove' || kind === 'hide'
}

/** Whether an edit takes away what is inside an element. */
function writesAnew(edit: Edit): boolean {
  return takesAway(edit) || edit.kind === 'html' || edit.kind === 'text'
}

/** A selector that begins with another one finds something inside of what that one finds. */
function isInside(selector: string, container: string): boolean {
  return selector.startsWith(`${container} `)
}

function inWords(one: string, other: string, { kind, edit }: Conflict): PreflightFinding {
  const thing = isOfElement(edit) ? describeElement(edit) : `“${editName(edit)}”`
  switch (kind) {
    case 'same':
      return stop(
        `${one} and ${other} change the same about ${thing}: together, only the later one shows. Put them into one factor.`,
      )
    case 'taken':
      return stop(
        `${one} and ${other}: one of them takes away what the other changes about ${thing}. Put them into one factor.`,
      )
    case 'beside':
      return {
        ...stop(`${one} and ${other} both change ${thing}. Look at the two together before the start.`),
        isStop: false,
      }
  }
}
