import { isOfElement, type DeliveredEdit } from '../../core/edits/content'
import type { Standing, StandingOnPage } from '../../core/edits/standing'
import { isWithin } from '../../core/edits/widths'
import { matchesPage } from '../../core/targeting/pageRule'
import { query } from '../edits/applier'
import { everyKind } from '../edits/everyKind'
import { findElement } from '../edits/findElement'
import { native, nativeDocument } from '../native'

const MOST_ELEMENTS = 4000
/** What of its style tells how an element looks. */
const LOOKS = [
  'display',
  'visibility',
  'opacity',
  'color',
  'backgroundColor',
  'backgroundImage',
  'borderTopWidth',
  'borderTopColor',
  'borderRadius',
  'boxShadow',
  'fontFamily',
  'fontSize',
  'fontStyle',
  'fontWeight',
  'letterSpacing',
  'lineHeight',
  'textAlign',
  'textDecorationLine',
  'textTransform',
  'transform',
] as const
/** Attributes that are told by what they come to. */
const TOLD_BY_LOOK = new Set(['style', 'class'])

/** How edits stand to the page as it is, each by itself. */
export function standingsOf(edits: readonly DeliveredEdit[]): StandingOnPage[] {
  return edits.map(standingOf)
}

function standingOf(edit: DeliveredEdit): StandingOnPage {
  if (edit.page && !matchesPage([edit.page], location.href)) return 'elsewhere'
  if (edit.widths && !isWithin(edit.widths, innerWidth)) return 'elsewhere'
  if (edit.kind === 'script' || edit.kind === 'redirect') return 'unknown'
  if (edit.kind === 'hide' || edit.kind === 'remove') return standingOfHidden(edit)
  const element = everyKind.find(edit)
  if (!element) return 'lost'
  if (edit.kind === 'insert') return isInserted(edit, element) ? 'built in' : 'needed'
  const withClasses = edit.kind === 'classes'
  const before = stateOfPage(withClasses)
  const applied = everyKind.apply(edit, element)
  const isSame = stateOfPage(withClasses) === before
  applied.revert()
  return isSame ? 'built in' : 'needed'
}

/** What is to be gone may be gone from the page altogether. */
function standingOfHidden(edit: Extract<DeliveredEdit, { kind: 'hide' | 'remove' }>): Standing {
  const element = findElement(edit.selector, edit.clues) ?? query(edit.selector)
  if (!element) return 'built in'
  const { display, visibility } = getComputedStyle(element)
  const isGone = display === 'none' || (edit.kind === 'hide' && edit.keepsSpace && visibility === 'hidden')
  return isGone ? 'built in' : 'needed'
}

/** Whether HTML that is to be added at a place stands there already: added once more it would be there twice. */
function isInserted({ value, place }: Extract<DeliveredEdit, { kind: 'insert' }>, element: Element): boolean {
  const template = nativeDocument.createElement('template')
  template.innerHTML = value
  const wanted = [...template.content.children].map(inOneWay)
  const { children, previousElementSibling, nextElementSibling } = native(element)
  const count = wanted.length
  if (count === 0) return native(element).textContent?.includes(native(template.content).textContent ?? '') ?? false
  const there = {
    first: () => [...children].slice(0, count),
    last: () => [...children].slice(-count),
    before: () => neighbors(previousElementSibling, 'previousElementSibling', count).reverse(),
    after: () => neighbors(nextElementSibling, 'nextElementSibling', count),
  }[place]()
  return there.length === count && there.every((each, index) => inOneWay(each) === wanted[index])
}

function neighbors(
  from: Element | null,
  next: 'previousElementSibling' | 'nextElementSibling',
  count: number,
): Element[] {
  const found: Element[] = []
  for (let each = from; each && found.length < count; each = native(each)[next]) found.push(each)
  return found
}

/** Markup without what makes no difference. */
function inOneWay(element: Element): string {
  return native(element).outerHTML.replace(/\s+/g, ' ').replace(/> </g, '><').trim()
}

/** Everything that can be seen of the page, and what its elements say of themselves, in one text. */
export function stateOfPage(withClasses = false): string {
  const elements = [...native(nativeDocument.body).querySelectorAll('*')].slice(0, MOST_ELEMENTS)
  return elements
    .map((element) => {
      const { localName, childNodes, attributes } = native(element)
      const texts = [...childNodes].map((node) =>
        native(node).nodeType === Node.TEXT_NODE ? native(node).nodeValue : '',
      )
      const said = [...attributes].filter(({ name }) => !TOLD_BY_LOOK.has(name) || (withClasses && name === 'class'))
      const style = getComputedStyle(element)
      const { x, y, width, height } = native(element).getBoundingClientRect()
      return [
        localName,
        texts.join('').replace(/\s+/g, ' ').trim(),
        ...said.map(({ name, value }) => `${name}=${value}`),
        ...LOOKS.map((name) => style[name]),
        ...[x, y, width, height].map(Math.round),
      ].join('\u0001')
    })
    .join('\u0002')
}

/** Whether the page looks the same with all of the edits as without them. */
export function isSameWith(edits: readonly DeliveredEdit[]): boolean {
  const before = stateOfPage()
  const found = edits.map((edit) => everyKind.find(edit))
  const applied = edits.flatMap((edit, index) =>
    isOfElement(edit) || edit.kind === 'css' ? (found[index] ? [everyKind.apply(edit, found[index])] : []) : [],
  )
  const isSame = stateOfPage() === before
  for (const each of applied.reverse()) each.revert()
  return isSame
}
