import { expect, test } from 'vitest'
import type { Declarations } from './style'
import { widerThanPhone } from './fixedWidth'

test.each<[Declarations, number | null]>([
  [{ width: '915px' }, 915],
  [{ width: '915.5px', 'max-width': 'none' }, 915.5],
  [{ width: '915px', 'max-width': '800px' }, 800],
  [{ 'min-width': '500px', 'max-width': '100%' }, 500],
  [{ width: '915px', 'max-width': '100%' }, null],
  [{ width: '915px', 'max-width': '390px' }, null],
  [{ width: '390px' }, null],
  [{ width: '120%' }, null],
  [{ height: '915px' }, null],
])('%o is wider than a phone by being %s', (declarations, width) => {
  expect(widerThanPhone(declarations)).toBe(width)
})
