import { describe, expect, test } from 'vitest'
import { readFromPage } from './pointing'

const box = { x: 1, y: 2, width: 3, height: 4 }
const located = { vetch: 'located', token: 't', boxes: [box, null], page: { width: 390, height: 2000 } }
const element = {
  ref: 3,
  words: 'heading “Fares”',
  selector: 'h2',
  matches: 1,
  isInserted: false,
  isChanging: false,
  tag: 'h2',
  clues: { tag: 'h2', text: 'Fares', before: '', after: '' },

  text: 'Fares',
  content: 'text',
  line: null,
  html: 'Fares',
  attributes: { id: 'fares' },
  classes: [],

  picture: null,
  look: { color: 'red' },
  path: [{ ref: 1, words: 'main part' }],
  children: [],

  place: 0,
  siblings: 2,
  shownHtml: null,
  box,
}
const pointed = { vetch: 'pointed', token: 't', elements: [element] }
const rearranged = { kind: 'rearrange', selector: 'ul', clues: null, order: [1, 0] }
const made = { vetch: 'made', token: 't', edits: [rearranged] }

test.each([
  located,
  pointed,
  made,
  { vetch: 'ready', token: 't', address: 'https://kc.example/', title: '' },
  { vetch: 'applied', token: 't', outcomes: [{ id: 'edit-0001', matches: 0, found: 'clues', isChanging: true }] },
  { vetch: 'pressed', token: 't', key: 'undo' },
])('what belongs to the protocol is read: $vetch', (message) => expect(readFromPage(message, 't')).toEqual(message))

describe('what a page makes up is not', () => {
  const changed = (changes: object) => ({ ...pointed, elements: [{ ...element, ...changes }] })
  test.each<[string, unknown]>([
    ['the token of another page', { ...located, token: 'another' }],
    ['no boxes', { ...located, boxes: 'none' }],
    ['a box that cannot be drawn', { ...located, boxes: [{ ...box, width: 1e9 }] }],
    ['a box without a number', { ...located, boxes: [{ ...box, x: Number.NaN }] }],
    ['a page without an end', { ...located, page: { width: 390, height: 1e9 } }],
    ['words without an end', changed({ words: 'x'.repeat(1000) })],
    ['an object in the place of a text', changed({ text: { toString: () => 'x' } })],
    ['attributes that are none', changed({ attributes: { id: 1 } })],
    ['a kind of content that there is not', changed({ content: 'script' })],
    ['more elements than anybody points at', { ...pointed, elements: Array(51).fill(element) }],
    ['an edit that dragging does not make', { ...made, edits: [{ kind: 'script', value: 'go()' }] }],
    ['an edit with something else in it', { ...made, edits: [{ ...rearranged, value: 'go()' }] }],
    ['a field of its own', { ...located, extra: 1 }],
    ['a message of its own', { vetch: 'constructor', token: 't' }],
    ['a text', 'located'],
    ['nothing', null],
  ])('%s', (_, message) => expect(readFromPage(message, 't')).toBe(null))
})
