import { describe, expect, test } from 'vitest'
import { deliveredMarkup, markupProblems, partProblems, readMarkup } from './markup'

test('tells what HTML would bring, as browsers read it', () => {
  const markup =
    '<p>Three <b>islands</b><p>One <a href="/book">Book</a><img src="https://pictures.example/a.png" alt="Boat"><style>p { color: red }</style><form action="/send"><input name="q"></form>'
  expect(readMarkup(markup)).toEqual({
    elements: { p: 2, b: 1, a: 1, img: 1, style: 1, form: 1, input: 1 },
    links: ['/book'],
    forms: ['/send'],
    loads: ['https://pictures.example/a.png'],
    text: 'Three islands One Book',
    problems: [],
  })
})

test.each([
  '<p>One <b>two</b></p>',
  '<ul><li>One</li><li>Two</li></ul>',
  '<tr><td>One</td></tr>',
  '<kittiwake-fares day="today"><span slot="title">Fares</span></kittiwake-fares>',
  '<svg viewBox="0 0 9 9"><linearGradient id="a"><stop offset="1"></stop></linearGradient><path d="M0 0h9"></path></svg>',
  '<iframe src="https://maps.example/"></iframe>',
  '<textarea rows="3">Typed &lt;b&gt;</textarea>',
])('%s is kept, and delivered as it is', (markup) => {
  expect(markupProblems(markup)).toEqual([])
  expect(deliveredMarkup(markup)).toBe(markup)
})

describe('what runs, or may be read in two ways, is refused and never delivered', () => {
  test.each<[string, RegExp]>([
    ['<svg></p><style><a id="</style><img src=1 onerror=go()>">', /style element|onerror/],
    ['<p onclick="go()">Hi</p>', /“onclick” would run a script/],
    ['<script>go()</script>', /holds a script/],
    ['<a href="java\nscript:go()">Hi</a>', /would run a script/],
    ['<svg><script>go()</script></svg>', /holds a script/],
    ['<svg><animate attributeName="href" values="javascript:go()"></animate></svg>', /would run a script/],
    [
      '<math><mtext><table><mglyph><style><!--</style><img title="--&gt;&lt;img src=1 onerror=go()&gt;">',
      /math element/,
    ],
    ['<noscript><p title="</noscript><img src=1 onerror=go()>">', /noscript element|onerror/],
    ['<template><img src=1 onerror=go()></template>', /template element|onerror/],
    ['<svg><foreignObject><p>Hi</p></foreignObject></svg>', /foreignObject element/],
    ['<xmp><img src=1></xmp>', /xmp element/],
    ['<plaintext>', /plaintext element/],
    ['<iframe srcdoc="<script>go()</script>"></iframe>', /srcdoc/],
    ['<p a"b=1>Hi</p>', /no name of an attribute/],
    ['<form><div></form><form>', /in two ways/],
    ['<object data="x"></object>', /holds an object/],
  ])('%s', (markup, why) => {
    expect(markupProblems(markup).join(' ')).toMatch(why)
    const delivered = deliveredMarkup(markup)
    expect(markupProblems(delivered)).toEqual([])
    expect(delivered).not.toMatch(/go\(\)/)
  })
})

test('what reads differently when it is read again is delivered as it reads in the end, and not as nothing', () => {
  const delivered = deliveredMarkup('<form><div>Hi</form><form>')
  expect(delivered).toContain('Hi')
  expect(deliveredMarkup(delivered)).toBe(delivered)
})

test('a line holds the parts of a line, and nothing else', () => {
  expect(partProblems('<b>Book</b> before <span data-part="0">Sunday</span>')).toEqual([])
  expect(partProblems('<p class="x">Book</p><span>no part</span>')).toEqual([
    'A line of text holds no p element.',
    'The text sets class, which only HTML can.',
    'A part of the text is not one of the page’s.',
  ])
})
