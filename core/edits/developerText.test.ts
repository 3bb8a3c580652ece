import { expect, test } from 'vitest'
import type { Edit } from './content'
import { developerText } from './developerText'

const served = (...edits: Edit[]) =>
  developerText({
    name: 'Fare in the heading',
    pages: 'addresses that begin with /crossings/',
    audience: 'everybody',
    variants: [{ name: 'With fare', audience: null, edits }],
  })

test('says where each change is, with what was there before and what is there after', () => {
  const text = served(
    { id: 'edit-1', kind: 'text', selector: '#headline', original: 'The ferry', value: 'From € 7' },
    {
      id: 'edit-2',
      kind: 'style',
      selector: '.lead',
      original: { 'margin-top': '32px' },
      value: { 'margin-top': '8px', color: 'red' },
      widths: { from: null, below: 640 },
    },
    { id: 'edit-3', kind: 'insert', selector: 'main > table', place: 'after', value: '<p>Dogs travel, too.</p>' },
    { id: 'edit-4', kind: 'move', selector: '#fares', to: '.lead', place: 'after' },
    { id: 'edit-5', kind: 'hide', selector: '.old', keepsSpace: false, isOff: true },
  )
  expect(text).toMatch(
    /^# Fare in the heading\n\n- Pages: addresses that begin with \/crossings\/\n- Visitors: everybody\n/,
  )
  expect(text).toContain('## With fare')
  expect(text).toContain(
    '- Element: `#headline`\n\nBefore:\n\n```text\nThe ferry\n```\n\nAfter:\n\n```text\nFrom € 7\n```',
  )
  expect(text).toContain('- Only in windows below 640 px')
  expect(text).toContain('```css\n.lead {\n  margin-top: 8px;\n  color: red;\n}\n```')
  expect(text).toContain('- Goes after that element\n\nAfter:\n\n```html\n<p>Dogs travel, too.</p>\n```')
  expect(text).toContain('- Element: `#fares`\n- Goes after `.lead`')
  expect(text).not.toContain('.old')
})

test('what a change holds neither ends its block nor becomes markup', () => {
  const text = developerText({
    name: '# <b>Bold</b> *claim*\n## Other',
    pages: '/',
    audience: 'everybody',
    variants: [
      {
        name: 'One',
        audience: 'country is DE',
        edits: [{ id: 'edit-1', kind: 'html', selector: 'p`q', original: '', value: '<pre>\n```\ncode\n```\n</pre>' }],
      },
    ],
  })
  expect(text.split('\n')[0]).toBe('# \\# \\<b\\>Bold\\</b\\> \\*claim\\* \\#\\# Other')
  expect(text).toContain('````html\n<pre>\n```\ncode\n```\n</pre>\n````')
  expect(text).toContain('- Element: ``p`q``')
  expect(text).toContain('For visitors: country is DE.')
})
