import { expect, test } from 'vitest'
import { scriptProblem } from './scriptProblem'

test.each([
  ['go()'],
  ['return () => stop()'],
  ['const { a, ...rest } = await1 ?? {}; label: for (const each of rest.list) { if (!each?.on) continue label }'],
  ['class Boat { #name = `x`; static { this.y = 1n ** 2n } }'],
  [''],
])('%j can be read', (code) => {
  expect(scriptProblem(code)).toBeNull()
})

test.each([
  ['if (true { brokenSyntax', 'Line 1, column 10 of the script cannot be read: unexpected token.'],
  ['go()\n  const a = ;', 'Line 2, column 13 of the script cannot be read: unexpected token.'],
  ['let a = 1\nlet a = 2', "Line 2, column 5 of the script cannot be read: identifier 'a' has already been declared."],
  ['with (page) go()', "Line 1, column 1 of the script cannot be read: 'with' in strict mode."],
  ['import "x"', expect.stringMatching(/^Line 1, column 1 of the script cannot be read: /)],
  ['}) ; (function () {', expect.stringMatching(/^Line 1, column 1 of the script cannot be read: /)],
  ['`not closed', expect.stringMatching(/unterminated template/)],
])('of %j it says where it breaks off', (code, problem) => {
  expect(scriptProblem(code)).toEqual(problem)
})
