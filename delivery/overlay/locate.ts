import { withoutClasses } from '../../core/measurement/elementPath'
import type { Box } from '../../shared/edits/pointing'
import { elementPath } from '../snippet/elementPath'
import { native, nativeDocument } from '../native'

const PAUSE = 300

/** What a link keeps of its address is not how it is written. */
const withoutAddresses = (path: string) => path.replace(/\[href="(?:[^"\\]|\\.)*"\]/g, '')

/**
 * The element of a path that a click has kept. What stands at its place but is something else, as a link that leads
 * elsewhere, is not it.
 */
export function elementAt(path: string): Element | null {
  try {
    const element = nativeDocument.querySelector(withoutAddresses(withoutClasses(path)))
    return element && withoutClasses(elementPath(element)) === withoutClasses(path) ? element : null
  } catch {
    return null
  }
}

/**
 * Tells where elements stand on the page, each time that the page or the question changes.
 *
 * @returns a function that asks for other elements
 */
export function followLocations(
  tell: (boxes: (Box | null)[], page: { width: number; height: number }) => void,
): (paths: readonly string[]) => void {
  let paths: readonly string[] = []
  let waiting: ReturnType<typeof setTimeout> | undefined
  let isFollowing = false

  function tellNow(): void {
    waiting = undefined
    const { scrollWidth, scrollHeight } = native(nativeDocument.documentElement)
    tell(paths.map(boxAt), { width: scrollWidth, height: scrollHeight })
  }
  const tellSoon = () => void (waiting ??= setTimeout(tellNow, PAUSE))

  return (wanted) => {
    paths = wanted
    tellNow()
    if (isFollowing) return
    isFollowing = true
    new MutationObserver(tellSoon).observe(document, { subtree: true, childList: true, attributes: true })
    addEventListener('resize', tellSoon)
    addEventListener('load', tellSoon, true)
  }
}

function boxAt(path: string): Box | null {
  const element = elementAt(path)
  const box = native(element)?.getBoundingClientRect()
  if (!box || (box.width === 0 && box.height === 0)) return null
  return { x: box.x + scrollX, y: box.y + scrollY, width: box.width, height: box.height }
}
