import type { Place } from '../../core/edits/insert'
import { trustedPolicy } from '../trusted'
import type { AppliedEdit } from './applier'
import { native, nativeDocument } from '../native'

/** Nodes of HTML. Scripts in it do not run, as browsers have it for markup that is read so. */
function nodesOf(html: string): ChildNode[] {
  template ??= nativeDocument.createElement('template')
  policy ??= trustedPolicy({ createHTML: String })
  template.innerHTML = policy?.createHTML(html) ?? html
  return [...template.content.childNodes]
}
/** Kept for the next edit: to make them costs more than to use them. Whoever asks takes the template's nodes away. */
let template: HTMLTemplateElement | undefined
let policy: ReturnType<typeof trustedPolicy<{ createHTML: (html: string) => string }>>

/** Shows other HTML inside of an element. What was there is kept aside. */
export function applyHtml(html: string, element: Element): AppliedEdit {
  const before = [...native(element).childNodes]
  const nodes = nodesOf(html)
  native(element).replaceChildren(...nodes)
  return {
    holds: () => native(element).isConnected && nodes.every((node) => native(node).parentNode === element),
    revert() {
      if (nodes.every((node) => native(node).parentNode === element)) native(element).replaceChildren(...before)
    },
  }
}

/** Adds HTML at a place of an element. */
export function applyInsert(html: string, place: Place, element: Element): AppliedEdit {
  const nodes = nodesOf(html)
  put(place, element, nodes)
  const revert = () => nodes.forEach((node) => native(node).remove())
  return {
    holds: () => native(element).isConnected && nodes.every((node) => native(node).isConnected),
    revert,
    discard: revert,
  }
}

/** Puts nodes at a place of an element, in their order. */
export function put(place: Place, element: Element, nodes: readonly ChildNode[]): void {
  if (place === 'before') native(element).before(...nodes)
  else if (place === 'after') native(element).after(...nodes)
  else if (place === 'first') native(element).prepend(...nodes)
  else native(element).append(...nodes)
}
