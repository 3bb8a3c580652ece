import type { Place } from '../../core/edits/insert'
import type { MadeOnPage, Step } from '../../shared/edits/pointing'
import { siblingsOf, targetOf } from './describe'
import type { DropMark } from './marker'
import { native, nativeDocument } from '../native'

/** Where dragged elements would go. */
export interface Drop {
  target: Element
  place: Place
  mark: DropMark
}

/** How near to an edge of a container a drop goes beside it, and not inside, in CSS pixels. */
const EDGE = 8
const HOLDS_OTHERS = /^(article|aside|body|dd|div|fieldset|footer|form|header|li|main|nav|ol|section|td|ul)$/

/** The place that is nearest to a point, for elements that are not to go into themselves. */
export function dropAt(x: number, y: number, dragged: readonly Element[]): Drop | null {
  let target = nativeDocument.elementFromPoint(x, y)
  while (target && dragged.some((each) => native(each).contains(target))) target = native(target).parentElement
  if (!target || target === nativeDocument.documentElement || target === nativeDocument.body) return null
  const box = native(target).getBoundingClientRect()
  const isEmptyInside =
    HOLDS_OTHERS.test(native(target).localName) &&
    x > box.left + EDGE &&
    x < box.right - EDGE &&
    y > box.top + EDGE &&
    y < box.bottom - EDGE
  if (isEmptyInside) {
    // Between the elements of a container the nearest of them says where.
    const inside = siblingsOf(native(target).firstElementChild ?? target).filter(
      (each) => each !== target && !dragged.includes(each),
    )
    if (!native(target).firstElementChild || inside.length === 0)
      return { target, place: 'last', mark: { box, edge: 'inside' } }
    const nearest = inside.reduce((best, each) => (distance(each, x, y) < distance(best, x, y) ? each : best))
    return beside(nearest, x, y)
  }
  return beside(target, x, y)
}

function beside(target: Element, x: number, y: number): Drop {
  const box = native(target).getBoundingClientRect()
  const isRow = runsInRow(target)
  const isBefore = isRow ? x < box.left + box.width / 2 : y < box.top + box.height / 2
  const edge = isRow ? (isBefore ? 'left' : 'right') : isBefore ? 'top' : 'bottom'
  return { target, place: isBefore ? 'before' : 'after', mark: { box, edge } }
}

function distance(element: Element, x: number, y: number): number {
  const { left, right, top, bottom } = native(element).getBoundingClientRect()
  return Math.hypot(Math.max(left - x, 0, x - right), Math.max(top - y, 0, y - bottom))
}

/** Whether an element stands beside others, and not above and below them. */
function runsInRow(element: Element): boolean {
  const [before, after] = [native(element).previousElementSibling, native(element).nextElementSibling]
  const other = after ?? before
  if (!other) return getComputedStyle(element).display.startsWith('inline')
  const [a, b] = [native(element).getBoundingClientRect(), native(other).getBoundingClientRect()]
  return a.right <= b.left + 1 || b.right <= a.left + 1
}

/**
 * The edits that a drop makes: another order where the elements stay in their container, else a move of each.
 *
 * @param asItIs - looks at the page without the edits of the variant
 */
export function editsOfDrop(
  dragged: readonly Element[],
  { target, place }: Drop,
  asItIs: <Result>(look: () => Result) => Result,
): MadeOnPage[] {
  const parent = native(dragged[0]!).parentElement
  const isWithin =
    (place === 'before' || place === 'after') && dragged.every((each) => native(each).parentElement === parent)
  if (isWithin && parent && native(target).parentElement === parent) {
    const rest = [...native(parent).children].filter((each) => !dragged.includes(each))
    rest.splice(rest.indexOf(target) + (place === 'after' ? 1 : 0), 0, ...dragged)
    return rearranged(parent, rest, asItIs)
  }
  const goal = asItIs(() => (native(target).isConnected ? targetOf(target) : null)) ?? targetOf(target)
  const moves = dragged.map((element): MadeOnPage => {
    const own = asItIs(() => (native(element).isConnected ? targetOf(element) : null)) ?? targetOf(element)
    return { kind: 'move', ...own, to: goal.selector, toClues: goal.clues, place }
  })
  // Each goes right beside the target, so that the last one to go stands nearest.
  return place === 'after' || place === 'first' ? moves.reverse() : moves
}

/** The edits of a step among the elements beside, or out of the container. */
export function editsOfStep(
  element: Element,
  step: Step,
  asItIs: <Result>(look: () => Result) => Result,
): MadeOnPage[] {
  const parent = native(element).parentElement
  if (!parent) return []
  if (step === 'out') {
    if (parent === nativeDocument.body) return []
    return editsOfDrop(
      [element],
      { target: parent, place: 'before', mark: { box: native(parent).getBoundingClientRect(), edge: 'top' } },
      asItIs,
    )
  }
  const siblings = siblingsOf(element)
  const other = siblings[siblings.indexOf(element) + (step === 'earlier' ? -1 : 1)]
  if (!other) return []
  const children = [...native(parent).children].filter((each) => each !== element)
  children.splice(children.indexOf(other) + (step === 'later' ? 1 : 0), 0, element)
  return rearranged(parent, children, asItIs)
}

function rearranged(
  parent: Element,
  wanted: readonly Element[],
  asItIs: <Result>(look: () => Result) => Result,
): MadeOnPage[] {
  return asItIs(() => {
    if (!native(parent).isConnected) return []
    const before = [...native(parent).children]
    const known = wanted.map((each) => before.indexOf(each)).filter((place) => place >= 0)
    // What an edit keeps from being there comes after those that can be seen.
    const order = [...known, ...before.keys()].filter((place, index, all) => all.indexOf(place) === index)
    return [{ kind: 'rearrange', ...targetOf(parent), order }]
  })
}
