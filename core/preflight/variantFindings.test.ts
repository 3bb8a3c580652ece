import { expect, test } from 'vitest'
import type { Edit } from '../edits/content'
import { lineFindings, redirectFindings, variantFindings } from './variantFindings'

const SITE = 'https://kc.example'
const rules = [{ match: 'exact', value: '/timetable' }] as const
const hide = (selector: string, more: Partial<Edit> = {}) =>
  ({ id: `edit-${selector}`, kind: 'hide', selector, keepsSpace: false, ...more }) as Edit
const found = (edits: Edit[]) => variantFindings([{ name: 'B', edits }], rules, SITE)

test('several separate changes of one variant are named; many changes of one element are one', () => {
  expect(found([hide('h1'), { ...hide('h1'), id: 'edit-0002', kind: 'remove' } as Edit])).toEqual([])
  const several = found([hide('h1'), hide('h2'), hide('p', { isOff: true }), { id: 'css', kind: 'css', value: 'a {}' }])
  expect(several).toMatchObject([{ isStop: false, section: 'what' }])
  expect(several[0]!.text).toContain('B: it changes 3 separate things: h1, h2, the stylesheet.')
})

test('a width in pixels that no phone’s window has is told', () => {
  const style = (value: Record<string, string>) =>
    ({ id: 'edit-style', kind: 'style', selector: 'h1', value, original: {} }) as Edit
  expect(found([style({ width: '915px' })])).toMatchObject([
    { isStop: false, text: expect.stringContaining('is 915 px wide, and a phone’s window 390.') },
  ])
  expect(found([style({ width: '915px', 'max-width': '100%' })])).toEqual([])
})

test('what can reach nobody, or leads nowhere, stops the start', () => {
  expect(found([hide('h1', { page: { match: 'exact', value: '/book' } })])).toMatchObject([
    { isStop: true, text: expect.stringContaining('limited to /book') },
  ])
  expect(found([{ id: 'edit-to', kind: 'redirect', value: '/timetable' }])).toMatchObject([
    { isStop: true, text: expect.stringContaining('to the page that they are on') },
  ])
  expect(found([{ id: 'edit-to', kind: 'redirect', value: '/by-day' }])).toEqual([])
  expect(found([hide('h1', { page: { match: 'exact', value: '/timetable' } })])).toEqual([])
})

test('the page that a redirect leads to must answer and carry the script line', () => {
  const target = { variant: 'B', path: '/by-day', problem: null, found: [{ selector: 'line', matches: 1, text: '' }] }
  expect(redirectFindings([target], 'line')).toEqual([])
  expect(redirectFindings([{ ...target, problem: 'It answered with 404.' }], 'line')[0]).toMatchObject({
    isStop: true,
    text: expect.stringContaining('404'),
  })
  // Browsers of visitors may reach what the server cannot.
  expect(redirectFindings([{ ...target, problem: 'It lies inside.', isUnanswered: true }], 'line')).toMatchObject([
    { isStop: false, text: expect.stringContaining('It lies inside.') },
  ])
  const bare = { ...target, found: [{ selector: 'line', matches: 0, text: null }] }
  expect(redirectFindings([bare], 'line')[0]!.text).toContain('does not carry the script line')
  // A line that comes to the page by other means is known by those who have reported.
  expect(redirectFindings([{ ...bare, isSeen: true }], 'line')).toEqual([])
  expect(lineFindings([target, bare, { ...bare, problem: 'away' }], 'line')).toMatchObject([
    { section: 'measured', isStop: false, text: expect.stringContaining('is not on /by-day,') },
  ])
})
