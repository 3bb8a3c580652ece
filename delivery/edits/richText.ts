import { trustedPolicy } from '../trusted'
import type { AppliedEdit } from './applier'

/** They have no text of their own: what a line says of their inside is not looked at. */
const WHOLE = new Set(['img', 'svg', 'input', 'select', 'textarea', 'picture', 'video', 'canvas', 'iframe', 'object'])

/**
 * Shows other words in an element that holds links and other parts of a line. Those parts stay the very nodes that the
 * page made, and so do the texts as far as there are any: a framework that holds them finds them again.
 */
export function applyRichText(value: string, element: Element): AppliedEdit {
  const parts = [...element.querySelectorAll('*')]
  const lists = new Map<Element, ChildNode[]>([element, ...parts].map((each) => [each, [...each.childNodes]]))
  const changed = new Map<Text, { before: string; after: string }>()
  const hidden: { element: HTMLElement; style: string | null }[] = []
  const used = new Set<Element>([element])
  const known = new Set<Node>([...lists.values()].flat())
  const ours = new Set<Node>()
  const wanted = document.createElement('template')
  wanted.innerHTML = trustedPolicy()?.createHTML(value) ?? value
  fill(element, wanted.content)

  function fill(target: Element, source: Node): void {
    const own = lists.get(target) ?? []
    const texts = own.filter((node): node is Text => node.nodeType === Node.TEXT_NODE)
    const children = [...source.childNodes].flatMap((node) => nodeFor(node, texts) ?? [])
    for (const text of texts) change(text, '')
    // What the line no longer names stays where a framework looks for it, and is not seen.
    const left = own.filter((node) => !children.includes(node))
    for (const node of left) if (node instanceof HTMLElement && !used.has(node)) hide(node)
    target.replaceChildren(...children, ...left.filter((node) => !(node instanceof Element && used.has(node))))
  }

  function nodeFor(node: ChildNode, texts: Text[]): ChildNode | null {
    if (node.nodeType === Node.TEXT_NODE) {
      const own = texts.shift()
      if (!own) return made(document.createTextNode(node.textContent!))
      change(own, node.textContent!)
      return own
    }
    if (!(node instanceof Element)) return null
    const part = parts[Number(node.getAttribute('data-part') ?? -1)]
    if (part && used.has(part)) return null
    const target = part ?? made(document.importNode(node, false))
    used.add(target)
    if (!WHOLE.has(target.localName)) fill(target, node)
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
    hidden.push({ element: part, style: part.getAttribute('style') })
    part.style.setProperty('display', 'none', 'important')
  }

  function revert(): void {
    for (const [node, { before, after }] of changed) if (node.data === after) node.data = before
    for (const { element: part, style } of hidden) restoreAttribute(part, 'style', style)
    for (const [each, nodes] of lists) {
      // What the page has added or taken away meanwhile stays so.
      const added = [...each.childNodes].filter((node) => !ours.has(node) && !known.has(node))
      each.replaceChildren(...nodes.filter((node) => element.contains(node)), ...added)
    }
  }

  return {
    holds: () =>
      element.isConnected && [...changed].every(([node, { after }]) => node.data === after && element.contains(node)),
    revert,
    discard: revert,
  }
}

/** Gives an attribute back what it was; null takes it away. */
export function restoreAttribute(element: Element, name: string, value: string | null): void {
  if (value !== null) return element.setAttribute(name, value)
  // A style that was set and never read has no attribute yet for browsers to take away: they would leave an empty one.
  element.getAttribute(name)
  element.removeAttribute(name)
}
