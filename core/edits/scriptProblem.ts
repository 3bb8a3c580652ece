import { parse } from 'acorn'

/** What scripts of variants run in; see `delivery/edits/code.ts`. It stands in the first line, before the script's own text. */
const STRICT = '"use strict";'

/**
 * Why browsers cannot read a script, with the place; null where they can. The script is the inside of a function: it may
 * return.
 *
 * @param code - text of the script
 * @example scriptProblem('if (true { go() }') // 'Line 1, column 10 of the script cannot be read: unexpected token.'
 */
export function scriptProblem(code: string): string | null {
  try {
    parse(STRICT + code, { ecmaVersion: 'latest', sourceType: 'script', allowReturnOutsideFunction: true })
    return null
  } catch (error) {
    if (!(error instanceof SyntaxError) || !('loc' in error)) throw error
    const { line, column } = error.loc as { line: number; column: number }
    const own = line === 1 ? column - STRICT.length : column
    const what = error.message.replace(/ \(\d+:\d+\)$/, '')
    return `Line ${line}, column ${own + 1} of the script cannot be read: ${what[0]!.toLowerCase()}${what.slice(1)}.`
  }
}
