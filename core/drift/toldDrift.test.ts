import { expect, test } from 'vitest'
import { LEAST_LOOKED, toldDrift, type ElementTold } from './toldDrift'

const told = (looked: number, lost: number, byClues = 0): ElementTold => ({ edit: 'edit-0001', looked, lost, byClues })
const keys = (each: ElementTold) => toldDrift([each], () => 'Warm: heading').map(({ key }) => key)

test.each([
  [told(LEAST_LOOKED - 1, LEAST_LOOKED - 1), []],
  [told(LEAST_LOOKED, LEAST_LOOKED), ['lost edit-0001']],
  [told(100, 90), ['lost edit-0001']],
  [told(100, 89), []],
  [told(100, 0, 50), ['clues edit-0001']],
  [told(100, 10, 49), []],
  [told(100, 95, 100), ['lost edit-0001']],
  [told(0, 0), []],
])('%j', (each, expected) => expect(keys(each)).toEqual(expected))

test('it is told in a sentence, of edits that are still there', () => {
  expect(toldDrift([told(1234, 1200)], () => 'Warm: heading')[0]!.text).toBe(
    'Warm: heading was not on the page for 1,200 of 1,234 visitors whose browsers looked lately.',
  )
  expect(toldDrift([told(1234, 1200)], () => undefined)).toEqual([])
})
