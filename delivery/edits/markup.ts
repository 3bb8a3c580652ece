import type { Place } from '../../core/edits/insert'
import { trustedPolicy } from '../trusted'
import type { AppliedEdit } from './applier'

/** Nodes of HTML. Scripts in it do not run, as browsers have it for markup that is read so. */
function nodesOf(html: string): ChildNode[] {
  const template = document.createElement('template')
  template.innerHTML = trustedPolicy()?.createHTML(html) ?? html
  return [...template.content.childNodes]
}

/** Shows other HTML inside of an element. What was there is kept aside. */
export function applyHtml(html: string, element: Element): AppliedEdit {
  const before = [...element.childNodes]
  const nodes = nodesOf(html)
  element.replaceChildren(...nodes)
  return {
    holds: () => element.isConnected && nodes.every(({ parentNode }) => parentNode === element),
    revert() {
      if (nodes.every(({ parentNode }) => parentNode === element)) element.replaceChildren(...before)
    },
  }
}

/** Adds HTML at a place of an element. */
export function applyInsert(html: string, place: Place, element: Element): AppliedEdit {
  const nodes = nodesOf(html)
  put(place, element, nodes)
  const revert = () => nodes.forEach((node) => node.remove())
  return {
    holds: () => element.isConnected && nodes.every(({ isConnected }) => isConnected),
    revert,
    discard: revert,
  }
}

/** Puts nodes at a place of an element, in their order. */
export function put(place: Place, element: Element, nodes: readonly ChildNode[]): void {
  if (place === 'before') element.before(...nodes)
  else if (place === 'after') element.after(...nodes)
  else if (place === 'first') element.prepend(...nodes)
  else element.append(...nodes)
}
