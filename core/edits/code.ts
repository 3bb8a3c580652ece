import { shortened } from './element'
import type { EditKind } from './kind'
import { scriptProblem } from './scriptProblem'

/** A stylesheet of the variant. */
export interface CssEdit {
  kind: 'css'
  value: string
}

/** A script of the variant. Runs once a page view, after the edits. */
export interface ScriptEdit {
  kind: 'script'
  value: string
}

/** Longest stylesheet or script, in characters: every visitor of the variant's pages loads it. */
export const LONGEST_CODE = 20_000

export const cssKind: EditKind<CssEdit> = {
  problems({ value }) {
    const problems = lengthProblems(value, 'stylesheet')
    // An unclosed brace would swallow what comes after it.
    if (count(value, '{') !== count(value, '}')) problems.push('A brace of the stylesheet is not closed.')
    if (/<\/style/i.test(value)) problems.push('A stylesheet holds no HTML.')
    return problems
  },
  describe: ({ value }) => `Stylesheet: ${shortened(value)}`,
}

export const scriptKind: EditKind<ScriptEdit> = {
  problems({ value }) {
    const problems = lengthProblems(value, 'script')
    const unread = problems.length === 0 ? scriptProblem(value) : null
    return unread ? [unread] : problems
  },
  describe: ({ value }) => `Script: ${shortened(value)}`,
}

function lengthProblems(value: string, what: string): string[] {
  if (!value.trim()) return [`The ${what} is empty.`]
  return value.length > LONGEST_CODE ? [`The ${what} is longer than ${LONGEST_CODE} characters.`] : []
}

function count(text: string, character: string): number {
  return text.replace(/\/\*[\s\S]*?\*\/|"[^"\n]*"|'[^'\n]*'/g, '').split(character).length - 1
}
