import { describeElement, type OfElement } from '../../core/edits/element'
import type { Declarations } from '../../core/edits/style'
import type { ElementContent, NamedElement, PointedElement } from '../../shared/edits/pointing'
import { cluesOf } from '../edits/findElement'
import { refOf } from './refs'
import { selectorOf } from './selectorOf'
import { countMatches } from './shownEdits'
import { native, nativeDocument } from '../native'

const LONGEST_HTML = 20_000
const MOST_NAMED = 40
/** Parts of a line of text. */
const INLINE = new Set(
  'a abbr b bdi bdo br cite code del dfn em i img ins kbd mark q s samp small span strong sub sup svg time u var wbr'.split(
    ' ',
  ),
)
/** Nothing can be written inside of them. */
const WITHOUT_INSIDE = new Set('area br canvas embed hr iframe img input object select svg textarea video'.split(' '))
/** What the controls of the look change. */
const LOOK = [
  ...['color', 'background-color', 'font-size', 'font-weight', 'font-style', 'text-align', 'line-height'],
  ...['text-transform', 'text-decoration-line', 'letter-spacing'],
  ...['margin-top', 'margin-right', 'margin-bottom', 'margin-left'],
  ...['padding-top', 'padding-right', 'padding-bottom', 'padding-left'],
  ...['width', 'height', 'max-width', 'border-top-width', 'border-top-style', 'border-top-color', 'border-radius'],
  ...['opacity', 'display', 'visibility', 'object-fit'],
]

/** How an element is kept: by its selector and by what it says. */
export function targetOf(element: Element): Required<OfElement> {
  return { selector: selectorOf(element), clues: cluesOf(element) }
}

export function nameOf(element: Element): NamedElement {
  return {
    ref: refOf(element),
    words: describeElement({ selector: native(element).localName, clues: cluesOf(element) }),
  }
}

/** All that Vetch shows of an element. To be called while the page is as it is, unless an edit has brought it there. */
export function describe(element: Element, isInserted: boolean): Omit<PointedElement, keyof Standing | 'isChanging'> {
  const selector = selectorOf(element)
  const content = contentOf(element)
  const html = native(element).innerHTML
  return {
    ...nameOf(element),
    selector,
    clues: cluesOf(element),
    matches: countMatches(selector),
    isInserted,
    tag: native(element).localName,
    text: (native(element).textContent ?? '').slice(0, LONGEST_HTML),
    content,
    line: content === 'line' ? lineOf(element) : null,
    html: html.length <= LONGEST_HTML ? html : null,
    attributes: attributesOf(element),
    classes: [...native(element).classList].slice(0, 100).map((name) => name.slice(0, 200)),
    picture:
      element instanceof HTMLImageElement
        ? { address: element.getAttribute('src')?.slice(0, 5000) ?? '', alt: element.alt.slice(0, 2000) }
        : null,
    look: lookOf(element),
  }
}

export type Standing = Pick<PointedElement, 'path' | 'children' | 'place' | 'siblings' | 'shownHtml' | 'box'>

/** Where an element stands on the page as it is shown. */
export function standingOf(element: Element): Standing {
  const { x, y, width, height } = native(element).getBoundingClientRect()
  const siblings = siblingsOf(element)
  const html = ['text', 'line'].includes(contentOf(element)) ? native(element).innerHTML : null
  return {
    path: pathOf(element).map(nameOf),
    children: [...native(element).children].filter(isSeen).slice(0, MOST_NAMED).map(nameOf),
    place: siblings.indexOf(element),
    siblings: siblings.length,
    shownHtml: html !== null && html.length <= LONGEST_HTML ? html : null,
    box: { x, y, width, height },
  }
}

/** Elements that share a container and are seen. */
export function siblingsOf(element: Element): Element[] {
  return [...(native(native(element).parentElement)?.children ?? [])].filter((each) => each === element || isSeen(each))
}

export function isSeen(element: Element): boolean {
  return native(element).getClientRects().length > 0
}

function contentOf(element: Element): ElementContent {
  if (WITHOUT_INSIDE.has(native(element).localName)) return 'none'
  if (native(element).childElementCount === 0) return 'text'
  const inside = [...native(element).querySelectorAll('*')]
  return inside.every((each) => INLINE.has(native(each).localName) || native(each).closest('svg')) &&
    inside.length < 200
    ? 'line'
    : 'elements'
}

/** The markup of a line, with a mark for each element that is there; see `core/edits/richText.ts`. */
function lineOf(element: Element): string {
  const parts = [...native(element).querySelectorAll('*')]
  const write = (node: Node): string => {
    if (native(node).nodeType === Node.TEXT_NODE) return escaped(native(node).textContent!)
    if (!(node instanceof Element)) return ''
    const inside = WITHOUT_INSIDE.has(native(node).localName) ? '' : [...native(node).childNodes].map(write).join('')
    return `<span data-part="${parts.indexOf(node)}">${inside}</span>`
  }
  return [...native(element).childNodes].map(write).join('').replace(/\s+/g, ' ').trim()
}

function escaped(text: string): string {
  return text.replace(/[&<>]/g, (character) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;' })[character]!)
}

function attributesOf(element: Element): Record<string, string> {
  const named = [...native(element).attributes].filter(
    ({ name }) => name !== 'class' && name !== 'style' && name.length <= 200,
  )
  return Object.fromEntries(named.slice(0, 100).map(({ name, value }) => [name, value.slice(0, 5000)]))
}

function lookOf(element: Element): Declarations {
  const style = getComputedStyle(element)
  return Object.fromEntries(LOOK.map((name) => [name, style.getPropertyValue(name).slice(0, 500)]))
}

function pathOf(element: Element): Element[] {
  const path: Element[] = []
  for (
    let each = native(element).parentElement;
    each && each !== nativeDocument.body && path.length < 60;
    each = native(each).parentElement
  )
    path.unshift(each)
  return path
}
