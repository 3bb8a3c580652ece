import { native, nativeDocument } from '../native'

/** Typing goes on: it is measured after a pause, in ms. */
const PAUSE = 250

/**
 * Tells by how many pixels edits make the page wider than its window, beyond what it is without them: now and whenever
 * the window changes.
 *
 * @param asItIs - looks at the page without the edits
 * @returns to be called when the edits have changed
 */
export function followSideways(asItIs: <Result>(look: () => Result) => Result, tell: (by: number) => void): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined
  const measure = () => {
    const shown = beyondWindow()
    tell(shown === 0 ? 0 : Math.max(0, shown - asItIs(beyondWindow)))
  }
  const later = () => {
    clearTimeout(timer)
    timer = setTimeout(measure, PAUSE)
  }
  addEventListener('resize', later)
  return later
}

function beyondWindow(): number {
  const { scrollWidth, clientWidth } = native(nativeDocument.documentElement)
  return Math.max(0, scrollWidth - clientWidth)
}
