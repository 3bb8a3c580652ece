import { expect, test } from 'vitest'
import { readFromPage } from './pointing'

const box = { x: 1, y: 2, width: 3, height: 4 }
const located = (changes: object) => ({
  vetch: 'located',
  token: 't',
  boxes: [box, null],
  page: { width: 390, height: 2000 },
  ...changes,
})

test('of where elements stand, only what can be drawn is taken from a page', () => {
  expect(readFromPage(located({}), 't')).toEqual(located({}))
  const wrong = [
    located({ token: 'another' }),
    located({ boxes: 'none' }),
    located({ boxes: [{ ...box, width: 1e9 }] }),
    located({ boxes: [{ ...box, x: Number.NaN }] }),
    located({ boxes: [undefined] }),
    located({ page: { width: 390, height: 1e9 } }),
    located({ page: null }),
    'located',
    null,
  ]
  for (const message of wrong) expect(readFromPage(message, 't')).toBe(null)
})
