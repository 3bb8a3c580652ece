import { native } from '../native'

const elements = new Map<number, WeakRef<Element>>()
const refs = new WeakMap<Element, number>()
let last = 0

/** The number by which Vetch speaks of an element. */
export function refOf(element: Element): number {
  let ref = refs.get(element)
  if (ref === undefined) {
    ref = ++last
    refs.set(element, ref)
    elements.set(ref, new WeakRef(element))
  }
  return ref
}

/** The element of a number, if it is still on the page. */
export function elementOfRef(ref: number): Element | null {
  const element = elements.get(ref)?.deref()
  return element && native(element).isConnected ? element : null
}
