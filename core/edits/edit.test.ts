import { expect, test } from 'vitest'
import { describeEdit, editProblems, invertEdit, orderEdits, type EditContent } from './edit'

const edit: EditContent = { kind: 'text', selector: 'h1', original: 'Old', value: 'New' }

test('a sound edit has no problems; each thing that is wrong is named', () => {
  expect(editProblems(edit)).toEqual([])
  expect(editProblems({ ...edit, value: ' ' })[0]).toContain('empty')
  expect(editProblems({ ...edit, value: 'Old' })[0]).toContain('same as the original')
  expect(editProblems({ ...edit, selector: '' })[0]).toContain('no element')
  expect(editProblems({ ...edit, value: 'x'.repeat(2001) })[0]).toContain('2000')
})

test('inverting twice gives the edit back', () => {
  expect(invertEdit(edit)).toEqual({ ...edit, original: 'New', value: 'Old' })
  expect(invertEdit(invertEdit(edit))).toEqual(edit)
})

test('of several edits of one element the last counts, from the first original, in the first place', () => {
  const other: EditContent = { kind: 'text', selector: 'p', original: 'a', value: 'b' }
  expect(orderEdits([edit, other, { ...edit, original: 'New', value: 'Newest' }])).toEqual([
    { ...edit, value: 'Newest' },
    other,
  ])
  expect(orderEdits([edit, { ...edit, original: 'New', value: 'Old' }])).toEqual([])
})

test('an edit is described in one line, however long its texts', () => {
  const line = describeEdit({ ...edit, value: `first\nsecond ${'x'.repeat(200)}` })
  expect(line).toMatch(/^Text of h1: “Old” becomes “first second x+…”$/)
  expect(line.length).toBeLessThan(120)
})
