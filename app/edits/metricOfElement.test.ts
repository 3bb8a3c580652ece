import { expect, test } from 'vitest'
import type { PointedElement } from '~~/shared/pointing'
import { countableThings } from './metricOfElement'

const element = (changes: Partial<PointedElement>) =>
  ({
    ...{ selector: '#find', tag: 'button', attributes: {} },
    clues: { tag: 'button', text: 'Find a crossing', before: '', after: '' },
    ...changes,
  }) as PointedElement
const things = (changes: Partial<PointedElement>) =>
  countableThings(element(changes), 'https://kc.example').map(({ name, source }) => [name, source])

test('clicks on a button, a form that is sent, and the page that a link leads to can be counted', () => {
  expect(things({})).toEqual([['Clicks: button “Find a crossing”', { type: 'click', selector: '#find' }]])
  expect(things({ tag: 'form', selector: '#finder' })[0]![1]).toEqual({ type: 'submit', selector: '#finder' })
  expect(things({ tag: 'a', attributes: { href: '/book?from=top' } })[1]).toEqual([
    'Reached: /book',
    { type: 'visit', page: { match: 'exact', value: '/book' } },
  ])
})

test('what cannot be looked up in kept clicks, or lies elsewhere, is not offered', () => {
  expect(things({ selector: '#find:hover' })).toEqual([])
  expect(things({ tag: 'a', attributes: { href: 'https://other.example/x' } })).toHaveLength(1)
  expect(things({ tag: 'a', attributes: { href: 'mailto:a@b.example' } })).toHaveLength(1)
})
