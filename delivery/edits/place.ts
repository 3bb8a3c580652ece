import type { Place } from '../../core/edits/insert'
import type { AppliedEdit } from './applier'
import { put } from './markup'
import { native, nativeDocument } from '../native'

/** Takes an element to a place of another one, once that is there. */
export function applyMove(place: Place, target: Element | null, element: Element): AppliedEdit {
  if (!target) return { holds: () => false, revert: () => {} }
  const mark = nativeDocument.createComment('')
  native(element).replaceWith(mark)
  put(place, target, [element])
  const { parentNode } = native(element)
  return {
    holds: () => native(element).isConnected && native(element).parentNode === parentNode && mark.isConnected,
    revert() {
      if (mark.parentNode) mark.replaceWith(element)
    },
    discard: () => mark.remove(),
  }
}

/** Puts the elements inside of one into another order. Texts and comments between them stay. */
export function applyRearrange(order: readonly number[], element: Element): AppliedEdit {
  const before = [...native(element).children]
  const named = new Set(order)
  // Where the page shows fewer or more elements than there were, those that are there come in the order they are named.
  const after = [...order.flatMap((place) => before[place] ?? []), ...before.filter((_, place) => !named.has(place))]
  arrange(after)

  function arrange(elements: readonly Element[]): void {
    const marks = [...native(element).children].map((child) => {
      const mark = nativeDocument.createComment('')
      native(child).replaceWith(mark)
      return mark
    })
    marks.forEach((mark, place) => mark.replaceWith(elements[place]!))
  }
  const stands = () => {
    const { children } = native(element)
    return children.length === after.length && after.every((child, place) => children[place] === child)
  }
  return {
    holds: () => native(element).isConnected && stands(),
    revert() {
      if (stands()) arrange(before)
    },
  }
}

/**
 * Takes an element out of the page. An empty, unseen one of the same name, id and classes keeps its place, so that
 * selectors that count places find the others where they were.
 */
export function applyRemove(element: Element, find: () => Element | null): AppliedEdit {
  const standIn = native(element).cloneNode(false) as HTMLElement
  native(standIn).style.setProperty('display', 'none', 'important')
  native(standIn).setAttribute('hidden', '')
  native(element).replaceWith(standIn)
  return {
    holds: () => native(standIn).isConnected && find() === standIn,
    revert: () => native(standIn).replaceWith(element),
    discard: () => native(standIn).remove(),
  }
}
