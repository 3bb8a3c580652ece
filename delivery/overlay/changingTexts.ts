import { native } from '../native'

/** A page is still putting itself together so long after the overlay has come, in ms. */
const SETTLED_AFTER = 2000

/** Which texts the page changes by itself. */
export interface ChangingTexts {
  /** Whether the page has changed the text of an element, or in it, since it had settled. */
  isChanging: (element: Element) => boolean
  /** Does something to the page that is not of the page itself. */
  unnoted: <Result>(change: () => Result) => Result
}

/**
 * Watches which texts the page's own scripts change. What Vetch does must be wrapped in `unnoted`.
 *
 * @param tell - called when the page has changed a text that it had not changed before
 */
export function watchTexts(tell: () => void): ChangingTexts {
  const changed = new WeakSet<Element>()
  const begun = performance.now()
  let isUnnoted = false
  const note = (records: readonly MutationRecord[]) => {
    if (performance.now() - begun < SETTLED_AFTER) return
    for (const { type, target, addedNodes, removedNodes } of records) {
      const isOfText = (nodes: NodeList) => [...nodes].some((node) => native(node).nodeType === Node.TEXT_NODE)
      if (type === 'childList' && !isOfText(addedNodes) && !isOfText(removedNodes)) continue
      const element = target instanceof Element ? target : native(target).parentElement
      if (!element || changed.has(element)) continue
      changed.add(element)
      tell()
    }
  }
  const observer = new MutationObserver(note)
  observer.observe(document, { subtree: true, childList: true, characterData: true })
  return {
    isChanging: (element) => [element, ...native(element).querySelectorAll('*')].some((each) => changed.has(each)),
    unnoted(change) {
      // What is done within another such change is no news either.
      if (isUnnoted) return change()
      note(observer.takeRecords())
      isUnnoted = true
      try {
        return change()
      } finally {
        isUnnoted = false
        observer.takeRecords()
      }
    },
  }
}
