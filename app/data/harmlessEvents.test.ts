import type { eventWithTime } from '@rrweb/types'
import { expect, test } from 'vitest'
import { harmlessEvents, unreadStyleSheets } from './harmlessEvents'

const element = (tagName: string, attributes: object, childNodes: object[] = []) => ({
  type: 2,
  tagName,
  attributes,
  childNodes,
})
const HOSTILE = element('html', {}, [
  element('head', {}, [
    element('link', { rel: 'prefetch', href: 'https://stranger.example/link' }),
    element('link', { rel: 'stylesheet', href: 'https://stranger.example/a.css', _cssText: 'p { color: red }' }),
    element('meta', { 'HTTP-EQUIV': 'refresh', content: '0; https://stranger.example/meta' }),
    element('base', { href: 'https://stranger.example/' }),
  ]),
  element('body', { background: 'https://stranger.example/body' }, [
    element('a', { href: '/book', class: 'button' }),
    element('iframe', { src: 'https://stranger.example/frame', width: '100' }),
    element('IFRAME', { srcdoc: '<img src=https://stranger.example/doc>' }),
    element('object', { data: 'https://stranger.example/object' }),
    element('video', { src: 'https://stranger.example/video' }),
    element('svg', {}, [element('use', { 'xlink:href': 'https://stranger.example/use#x' })]),
  ]),
])

test('nothing of a recording makes a browser ask anybody, and what shows a page stays', () => {
  const mutation = {
    type: 3,
    timestamp: 2,
    data: {
      source: 0,
      adds: [{ parentId: 1, nextId: null, node: element('iframe', { src: 'https://stranger.example/added' }) }],
      attributes: [{ id: 5, attributes: { src: 'https://stranger.example/changed', class: 'open' } }],
      texts: [],
      removes: [],
    },
  }
  const snapshot = { type: 2, timestamp: 1, data: { node: { type: 0, childNodes: [HOSTILE] } } }
  const events = [snapshot, mutation] as unknown as eventWithTime[]
  const before = JSON.stringify(events)
  const text = JSON.stringify(harmlessEvents(events))
  expect(text.match(/stranger\.example\/\w+/g)).toEqual(['stranger.example/meta'])
  for (const kept of ['p { color: red }', '"href":"/book"', '"width":"100"', '"class":"open"'])
    expect(text).toContain(kept)
  expect(text.toLowerCase()).not.toContain('http-equiv')
  expect(JSON.stringify(events)).toBe(before)
})

test('a style sheet that could not be read is shown by its copy, and by nothing where there is none', () => {
  const sheet = (name: string) =>
    element('link', { rel: 'preload StyleSheet', href: `https://cdn.example/${name}.css` })
  const head = element('head', {}, [sheet('kept'), sheet('gone'), element('link', { rel: 'icon', href: '/icon.png' })])
  const events = [{ type: 2, timestamp: 1, data: { node: head } }] as unknown as eventWithTime[]
  expect(unreadStyleSheets(events)).toEqual(['https://cdn.example/kept.css', 'https://cdn.example/gone.css'])
  const [shown] = harmlessEvents(events, new Map([['https://cdn.example/kept.css', 'h1 { color: red }']]))
  const { childNodes } = (shown as unknown as { data: { node: typeof head } }).data.node
  expect((childNodes as (typeof head)[]).map(({ attributes }) => attributes)).toEqual([
    { rel: 'preload StyleSheet', _cssText: 'h1 { color: red }' },
    { rel: 'preload StyleSheet' },
    { rel: 'icon' },
  ])
})
