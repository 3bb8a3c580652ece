import type { AppliedEdit } from './applier'
import { native, nativeDocument } from '../native'

/**
 * Shows another text in an element without taking a node away that a framework may hold: the first text takes the new
 * words, every other text in the element is emptied.
 */
export function applyText(value: string, element: Element): AppliedEdit {
  const texts = textsIn(element)
  const place = texts.find(isFilled) ?? texts[0]
  const own = place ? null : nativeDocument.createTextNode(value)
  if (own) native(element).append(own)
  const changed: { node: Text; before: string; after: string }[] = []
  for (const node of texts) {
    if (node !== place && !isFilled(node)) continue
    const before = node.data
    const after = node === place ? value : ''
    if (before !== after) node.data = after
    changed.push({ node, before, after })
  }
  return {
    holds: () => native(element).isConnected && words(native(element).textContent ?? '') === words(value),
    revert() {
      own?.remove()
      for (const { node, before, after } of changed) if (node.data === after) node.data = before
    },
  }
}

function textsIn(element: Element): Text[] {
  const { firstChild, lastChild } = native(element)
  // Most headlines and buttons hold one text and nothing else.
  if (firstChild === lastChild && firstChild instanceof Text) return [firstChild]
  const texts: Text[] = []
  const walker = nativeDocument.createTreeWalker(element, NodeFilter.SHOW_TEXT)
  while (walker.nextNode()) {
    const node = walker.currentNode as Text
    if (!/^(script|style)$/.test(native(node.parentElement!).localName)) texts.push(node)
  }
  return texts
}

function isFilled({ data }: Text): boolean {
  return data.trim() !== ''
}

export function words(text: string): string {
  return text.replace(/\s+/g, ' ').trim()
}
