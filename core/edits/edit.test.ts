import { describe, expect, test } from 'vitest'
import type { Edit, EditContent, EditMarks } from './content'
import { changedBy, deliveredEdit, describeEdit, editName, editProblems, orderEdits } from './edit'
import type { ElementClues } from './element'
import { parseDeclarations } from './style'

const clues: ElementClues = { tag: 'h2', text: 'Fares', before: '', after: 'From 12 euro' }
const of = { selector: '#fares', clues }
const text: EditContent = { kind: 'text', selector: 'h1', original: 'Old', value: 'New' }
const style = (value: Record<string, string>): EditContent => ({
  kind: 'style',
  ...of,
  value,
  original: Object.fromEntries(Object.keys(value).map((name) => [name, '0px'])),
})
const classes = (add: string[], remove: string[] = []): EditContent => ({ kind: 'classes', ...of, add, remove })

test.each<[EditContent, string]>([
  [text, 'Text of h1: “Old” becomes “New”'],
  [{ ...text, ...of }, 'Text of heading: “Old” becomes “New”'],
  [
    {
      kind: 'richText',
      ...of,
      original: 'Go <span data-part="0">now</span>',
      value: '<b>Go</b> <span data-part="0">now</span>',
    },
    'Emphasis and links in heading “Go now”',
  ],
  [
    { kind: 'html', ...of, value: '<ul><li>One</li><li>Two</li></ul>', original: '' },
    'HTML inside of heading “Fares” becomes “One Two”',
  ],
  [
    { kind: 'insert', ...of, place: 'after', value: '<p>Dogs ride free</p>' },
    '“Dogs ride free” is added after heading “Fares”',
  ],
  [
    {
      kind: 'attribute',
      selector: 'a',
      clues: { ...clues, tag: 'a', text: 'Book' },

      name: 'href',
      value: '/book?from=top',
      original: '/book',
    },
    'The link “Book” leads to /book?from=top',
  ],
  [
    { kind: 'attribute', ...of, name: 'title', value: null, original: 'x' },
    'The attribute title of heading “Fares” is removed',
  ],
  [
    {
      kind: 'image',
      selector: 'img',
      original: { address: '/a.svg', alt: '' },
      value: { address: 'https://pictures.example/i/pier.webp?w=3', alt: 'The pier' },
    },
    'The img shows pier.webp (“The pier”)',
  ],
  [
    {
      kind: 'image',
      selector: 'img',
      original: { address: '/a.svg', alt: '' },
      value: { address: 'https://vetch.example/pictures/key/dffce434.webp#the%20pier.webp', alt: '' },
    },
    'The img shows the pier.webp',
  ],
  [style({ color: 'red', 'font-size': '20px' }), 'Look of heading “Fares”: color red, size of the type 20px'],
  [classes(['wide'], ['narrow', 'dim']), 'Classes: heading “Fares” gets wide and loses narrow, dim'],
  [
    { kind: 'move', ...of, to: '#intro', toClues: { ...clues, tag: 'p', text: 'Welcome' }, place: 'before' },
    'The heading “Fares” moves before paragraph “Welcome”',
  ],
  [
    { kind: 'rearrange', selector: 'ul', clues: { ...clues, tag: 'ul', text: '' }, order: [2, 0, 1] },
    'The 3 parts of list stand as 3, 1, 2',
  ],
  [{ kind: 'hide', ...of, keepsSpace: true }, 'The heading “Fares” is hidden; its place stays empty'],
  [{ kind: 'remove', ...of }, 'The heading “Fares” is removed'],
  [{ kind: 'css', value: 'h1 {\n color: red }' }, 'Stylesheet: h1 { color: red }'],
  [{ kind: 'script', value: 'go()' }, 'Script: go()'],
  [{ kind: 'redirect', value: '/timetable-by-day' }, 'Visitors go to /timetable-by-day'],
])('an edit says what it does, and is sound: %#', (edit, words) => {
  expect(describeEdit(edit)).toBe(words)
  expect(editProblems(edit)).toEqual([])
})

test('an edit is called by the name that it was given, and stays on one line', () => {
  const long: EditContent = { ...text, value: `first\nsecond ${'x'.repeat(200)}` }
  expect(describeEdit(long)).toMatch(/^Text of h1: “Old” becomes “first second x+…”$/)
  expect(describeEdit(long).length).toBeLessThan(120)
  expect(editName({ ...text, title: ' Warm headline ' })).toBe('Warm headline')
})

describe('what is wrong is named', () => {
  test.each<[EditContent, RegExp]>([
    [{ ...text, value: ' ' } as EditContent, /empty/],
    [{ ...text, value: 'Old' } as EditContent, /same as the original/],
    [{ ...text, selector: '' } as EditContent, /no element/],
    [{ ...text, value: 'x'.repeat(2001) } as EditContent, /2000/],
    [{ kind: 'richText', ...of, original: '', value: '<div>x</div>' }, /no div/],
    [{ kind: 'richText', ...of, original: '', value: 'a <span class="x">b</span>' }, /not one of the page’s/],
    [{ kind: 'html', ...of, original: '', value: '<img src=x onerror=go()>' }, /“onerror” would run a script/],
    [{ kind: 'insert', ...of, place: 'first', value: '<script>go()</script>' }, /script of the variant/],
    [{ kind: 'insert', ...of, place: 'first', value: '<a href="java\nscript:go()">x</a>' }, /would run a script/],
    [
      {
        kind: 'insert',
        ...of,
        place: 'first',
        value: '<svg><a><set attributeName="href" to="javascript:go()"/></a></svg>',
      },
      /would run a script/,
    ],
    [{ kind: 'insert', ...of, place: 'first', value: '<iframe srcdoc="x"></iframe>' }, /srcdoc/],
    [{ kind: 'attribute', ...of, name: 'onclick', value: 'go()', original: null }, /run a script/],
    [{ kind: 'attribute', ...of, name: 'href', value: ' javascript:go()', original: null }, /run a script/],
    [{ kind: 'attribute', ...of, name: 'style', value: 'color:red', original: null }, /under Look/],
    [
      { kind: 'image', ...of, value: { address: '', alt: '' }, original: { address: '/a.svg', alt: '' } },
      /Choose a picture/,
    ],
    [style({}), /Nothing about the look/],
    [style({ color: 'red; } body { display: none' }), /not one value of color/],
    [classes([]), /Name a class/],
    [classes(['a'], ['a']), /both added and removed/],
    [{ kind: 'move', ...of, to: '#fares', place: 'after' }, /cannot go to itself/],
    [{ kind: 'rearrange', ...of, order: [0, 2, 2] }, /names each element once/],
    [{ kind: 'rearrange', ...of, order: [0, 1] }, /in this order already/],
    [{ kind: 'css', value: 'h1 { color: red' }, /not closed/],
    [{ kind: 'css', value: '</style><b>' }, /holds no HTML/],
    [{ kind: 'script', value: ' ' }, /empty/],
    [{ kind: 'redirect', value: 'javascript:go()' }, /begins with a slash/],
    [{ kind: 'redirect', value: '//other.example' }, /begins with a slash/],
  ])('%#', (edit, message) => expect(editProblems(edit).join(' ')).toMatch(message))
})

describe('of several edits of one thing', () => {
  const other: EditContent = { kind: 'text', selector: 'p', original: 'a', value: 'b' }

  test('the last counts, from the first original, in the first place', () => {
    expect(
      orderEdits<EditContent>([text, other, { ...text, original: 'New', value: 'Newest' } as EditContent]),
    ).toEqual([{ ...text, value: 'Newest' }, other])
    expect(orderEdits<EditContent>([text, { ...text, original: 'New', value: 'Old' } as EditContent])).toEqual([])
  })

  test('styles and classes come together', () => {
    expect(orderEdits([style({ color: 'red', margin: '0' }), style({ color: 'blue' })])).toEqual([
      style({ color: 'blue', margin: '0' }),
    ])
    expect(orderEdits([classes(['a'], ['b']), classes(['c'], ['a'])])).toEqual([classes(['c'], ['b', 'a'])])
    expect(orderEdits([classes(['a']), classes([], ['a'])])).toEqual([classes([], ['a'])])
  })

  test('insertions stay apart, and edits of different pages do too', () => {
    const insertion: EditContent = { kind: 'insert', ...of, place: 'after', value: '<p>x</p>' }
    expect(orderEdits([insertion, insertion])).toHaveLength(2)
    const there: EditContent & EditMarks = { ...text, page: { match: 'exact', value: '/book' } }
    expect(orderEdits<EditContent & EditMarks>([text, there])).toHaveLength(2)
    expect(changedBy(there)).not.toBe(changedBy(text))
  })
})

test('stylesheets come first, scripts last, and a redirect alone; what is off is left out', () => {
  const css: EditContent = { kind: 'css', value: 'a {}' }
  const script: EditContent = { kind: 'script', value: 'go()' }
  const redirect: EditContent = { kind: 'redirect', value: '/b' }
  expect(orderEdits<EditContent>([script, text, css]).map(({ kind }) => kind)).toEqual(['css', 'text', 'script'])
  expect(orderEdits<EditContent>([text, redirect, css])).toEqual([redirect])
  expect(orderEdits<EditContent & EditMarks>([{ ...redirect, isOff: true }, text])).toEqual([text])
})

test('browsers are told what to do, and neither names nor what was there', () => {
  const edit: Edit = { ...text, id: 'edit-0001', title: 'Warm', page: null } as Edit
  expect(deliveredEdit(edit)).toEqual({ kind: 'text', selector: 'h1', value: 'New' })
  expect(deliveredEdit({ ...text, ...of } as EditContent)).toMatchObject({ clues })
})

test('declarations are read as they are typed, and what cannot be read is named', () => {
  expect(parseDeclarations('color: red;\nbackground: url(https://x.example/a.png) !important\nbroken')).toEqual({
    declarations: { color: 'red', background: 'url(https://x.example/a.png)' },
    problems: ['“broken” has no colon. Write it as color: red.'],
  })
})
