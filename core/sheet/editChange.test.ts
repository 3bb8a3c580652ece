import { expect, test } from 'vitest'
import type { Edit, EditContent } from '../edits/content'
import { changeForEdit } from './editChange'

const list = { part: 'edits', variant: 'variant-b' } as const
const text = (value: string, original = 'Old'): EditContent => ({ kind: 'text', selector: 'h1', value, original })
const style = (value: Record<string, string>, original: Record<string, string>): EditContent => ({
  kind: 'style',
  selector: 'h1',
  value,
  original,
})
const kept = (content: EditContent): Edit => ({ ...content, id: 'edit-0001' }) as Edit
const change = (edits: Edit[], content: EditContent) => changeForEdit(list, edits, content, 'edit-new')

test('a first edit of something is added, and nothing where nothing changes', () => {
  expect(change([], text('New'))).toEqual({ do: 'add', list, item: { ...text('New'), id: 'edit-new' }, before: null })
  expect(change([], text('Old'))).toBe(null)
})

test('another of the same changes it from its first original, or takes it away', () => {
  const of = { ...list, id: 'edit-0001' }
  const edits = [kept(text('New'))]
  // What is on the page by now is no original.
  expect(change(edits, text('Newest', 'New'))).toEqual({
    do: 'set',
    of,
    from: { value: 'New' },
    to: { value: 'Newest' },
  })
  expect(change(edits, text('New'))).toBe(null)
  expect(change(edits, text('Old', 'New'))).toEqual({ do: 'remove', list, item: edits[0] })
})

test('an edit that is off, or of another page or kind, is another one', () => {
  for (const other of [
    { ...kept(text('New')), isOff: true },
    { ...kept(text('New')), page: { match: 'exact', value: '/book' } },
    kept({ kind: 'hide', selector: 'h1', keepsSpace: false }),
  ] as Edit[])
    expect(change([other], text('Newest'))).toMatchObject({ do: 'add' })
})

test('of a look each property keeps its own original', () => {
  const before = kept(style({ color: 'red' }, { color: 'black' }))
  expect(change([before], style({ color: 'blue', margin: '0px' }, { color: 'red', margin: '8px' }))).toMatchObject({
    do: 'set',
    to: { value: { color: 'blue', margin: '0px' }, original: { color: 'black', margin: '8px' } },
  })
  expect(change([before], style({}, {}))).toEqual({ do: 'remove', list, item: before })
})

test('insertions are added one by one', () => {
  const insertion: EditContent = { kind: 'insert', selector: 'h1', place: 'after', value: '<p>x</p>' }
  expect(change([kept(insertion)], insertion)).toMatchObject({ do: 'add' })
})
