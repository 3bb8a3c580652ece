import { expect, test } from 'vitest'
import type { PointedElement } from '~~/shared/edits/pointing'
import { countableThings } from './metricOfElement'

const element = (changes: Partial<PointedElement>) =>
  ({
    selector: '#find',
    tag: 'button',
    text: 'Find a crossing',
    attributes: {},
    clues: { tag: 'button', text: 'Find a crossing', before: '', after: '' },
    ...changes,
  }) as PointedElement
const things = (changes: Partial<PointedElement>) =>
  countableThings(element(changes), 'https://kc.example', '/book').map(({ name, source }) => [name, source])

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

test('an amount that an element shows is summed up, a longer text with digits in it is none', () => {
  const found = countableThings(element({ tag: 'strong', text: 'Total: €84.50' }), 'https://kc.example', '/book/done')
  expect(found[1]).toMatchObject({
    kind: 'mean',
    label: 'The amount in it, now 84.5, of each visitor who comes to /book/done',
    source: { type: 'pageAmount', page: { match: 'exact', value: '/book/done' }, selector: '#find', reference: null },
  })
  expect(things({ text: 'Crossings to 12 islands, every day of the week in summer' })).toHaveLength(1)
})
