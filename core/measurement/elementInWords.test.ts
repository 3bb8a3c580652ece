import { expect, test } from 'vitest'
import { ELEMENTS } from '../../demo/visitors/elements'
import { elementInWords } from './elementInWords'

test('an element is called by what it is and says, without it by its id', () => {
  const called = (element: { element: string; label?: string }) =>
    elementInWords({ path: element.element, label: element.label ?? null })
  expect(called(ELEMENTS.find)).toBe('button: Find a crossing')
  expect(called(ELEMENTS.promotion)).toBe('link: See the Island Hopper')
  expect(called(ELEMENTS.booking)).toBe('form #booking')
  expect(called(ELEMENTS.scene)).toBe('drawing')
  expect(elementInWords({ path: '', label: null })).toBe('')
})
