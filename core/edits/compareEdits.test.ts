import { expect, test } from 'vitest'
import { compareEdits } from './compareEdits'
import type { Edit } from './content'

const text = (id: string, value: string, rest: Partial<Edit> = {}): Edit =>
  ({ id, kind: 'text', selector: '#a', original: 'Old', value, ...rest }) as Edit
const insert = (id: string, value: string): Edit => ({ id, kind: 'insert', selector: '#a', place: 'after', value })

test('what both do alike is no difference, whatever it is called', () => {
  const one = [text('edit-0001', 'New', { title: 'Warm' }), insert('edit-0002', '<p>x</p>')]
  const other = [insert('edit-0003', '<p>x</p>'), text('edit-0004', 'New', { original: 'Older' })]
  expect(compareEdits(one, other)).toEqual([])
})

test('the same thing changed otherwise stands side by side; the rest stands alone', () => {
  const one = [text('edit-0001', 'New'), insert('edit-0002', '<p>x</p>')]
  const other = [insert('edit-0003', '<p>y</p>'), text('edit-0004', 'Newer'), text('edit-0005', 'Off', { isOff: true })]
  expect(compareEdits(one, other)).toEqual([
    { one: one[0], other: other[1] },
    { one: one[1], other: null },
    { one: null, other: other[0] },
  ])
})
