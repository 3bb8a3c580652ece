import { trustedPolicy } from '../trusted'
import type { AppliedEdit } from './applier'
import { native, nativeDocument } from '../native'

/** They have no text of their own: what a line says of their inside is not looked at. */
const WHOLE = new Set(['img', 'svg', 'input', 'select', 'textarea', 'picture', 'video', 'canvas', 'iframe', 'object'])

/**
 * Shows other words in an element that holds links and other parts of a line. Those parts stay the very nodes that the
 * page made, and so do the texts as far as there are any: a framework that holds them finds them again.
 */
export function applyRichText(value: string, element: Element): AppliedEdit {
  const parts = [...native(element).querySelectorAll('*')]
  const lists = new Map<Element, ChildNode[]>([element, ...parts].map((each) => [each, [...native(each).childNodes]]))
  const changed = new Map<Text, { before: string; after: string }>()
  const hidden: { element: HTMLElement; style: string | null }[] = []
  const used = new Set<Element>([element])
  const known = new Set<Node>([...lists.values()].flat())
  const ours = new Set<Node>()
  const wanted = nativeDocument.createElement('template')
  wanted.innerHTML = trustedPolicy({ createHTML: String })?.createHTML(value) ?? value
  fill(element, wanted.content)

  function fill(target: Element, source: Node): void {
    const own = lists.get(target) ?? []
    const texts = own.filter((node): node is Text => native(node).nodeType === Node.TEXT_NODE)
    const children = [...native(source).childNodes].flatMap((node) => nodeFor(node, texts) ?? [])
    for (const text of texts) change(text, '')
    // What the line no longer names stays where a framework looks for it, and is not seen.
    const left = own.filter((node) => !children.includes(node))
    for (const node of left) if (node instanceof HTMLElement && !used.has(node)) hide(node)
    native(target).replaceChildren(...children, ...left.filter((node) => !(node instanceof Element && used.has(node))))
  }

  function nodeFor(node: ChildNode, texts: Text[]): ChildNode | null {
    if (native(node).nodeType === Node.TEXT_NODE) {
      const own = texts.shift()
      if (!own) return made(nativeDocument.createTextNode(native(node).textContent!))
      change(own, native(node).textContent!)
      return own
    }
    if (!(node instanceof Element)) return null
    const part = parts[Number(native(node).getAttribute('data-part') ?? -1)]
    if (part && used.has(part)) return null
    const target = part ?? made(nativeDocument.importNode(node, false))
    used.add(target)
    if (!WHOLE.has(native(target).localName)) fill(target, node)
    return target
  }

  function made<Made extends Node>(node: Made): Made {
    ours.add(node)
    return node
  }

  function change(node: Text, after: string): void {
    changed.set(node, { before: node.data, after })
    node.data = after
  }

  function hide(part: HTMLElement): void {
    hidden.push({ element: part, style: native(part).getAttribute('style') })
    native(part).style.setProperty('display', 'none', 'important')
  }

  function revert(): void {
    for (const [node, { before, after }] of changed) if (node.data === after) node.data = before
    for (const { element: part, style } of hidden) restoreAttribute(part, 'style', style)
    for (const [each, nodes] of lists) {
      // What the page has added or taken away meanwhile stays so.
      const added = [...native(each).childNodes].filter((node) => !ours.has(node) && !known.has(node))
      native(each).replaceChildren(...nodes.filter((node) => native(element).contains(node)), ...added)
    }
  }

  return {
    holds: () =>
      native(element).isConnected &&
      [...changed].every(([node, { after }]) => node.data === after && native(element).contains(node)),
    revert,
    discard: revert,
  }
}

/** Gives an attribute back what it was; null takes it away. */
export function restoreAttribute(element: Element, name: string, value: string | null): void {
  if (value !== null) return native(element).setAttribute(name, value)
  // A style that was set and never read has no attribute yet for browsers to take away: they would leave an empty one.
  native(element).getAttribute(name)
  native(element).removeAttribute(name)
}
