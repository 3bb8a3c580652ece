import { native, nativeDocument } from '../native'

/** Keys that walk over the page. */
export type WalkKey = 'ArrowDown' | 'ArrowUp' | 'ArrowLeft' | 'ArrowRight'

const KEYS: ReadonlySet<string> = new Set<WalkKey>(['ArrowDown', 'ArrowUp', 'ArrowLeft', 'ArrowRight'])

export function isWalkKey(key: string): key is WalkKey {
  return KEYS.has(key)
}

/**
 * Where a key leads from an element: down and up to the next and the one before that has text of its own, in the order
 * of the page; left to the element around it, right to the first one inside.
 *
 * @returns null where it leads nowhere
 */
export function walk(from: Element | null, key: WalkKey): Element | null {
  const around = native(from)?.parentElement
  if (key === 'ArrowLeft') return around && around !== nativeDocument.body ? around : null
  if (key === 'ArrowRight') return [...(native(from)?.children ?? [])].find(isSeen) ?? null
  const texts = [...native(nativeDocument.body).querySelectorAll('*')].filter(
    (element) => hasOwnText(element) && isSeen(element),
  )
  if (!from) return texts[0] ?? null
  const isWanted = key === 'ArrowDown' ? Node.DOCUMENT_POSITION_FOLLOWING : Node.DOCUMENT_POSITION_PRECEDING
  // What is around an element precedes it; only its left key leads there.
  const others = texts.filter((element) => element !== from && native(from).compareDocumentPosition(element) & isWanted)
  return (key === 'ArrowDown' ? others[0] : others.findLast((element) => !native(element).contains(from))) ?? null
}

function hasOwnText(element: Element): boolean {
  const { childNodes, localName } = native(element)
  if (localName === 'script' || localName === 'style' || localName === 'noscript') return false
  return [...childNodes].some(
    (node) => native(node).nodeType === Node.TEXT_NODE && native(node).textContent!.trim() !== '',
  )
}

function isSeen(element: Element): boolean {
  return native(element).getClientRects().length > 0
}
