import { native, nativeDocument } from '../native'

/** Ends the wait that the style of the script line began. */
export function reveal(): void {
  const waits = waitStyles()
  if (waits.length > 0) return waits.forEach((sheet) => sheet.remove())
  // The style may have been rewritten or moved by the site's own tools; then it is overruled.
  const { style } = native(nativeDocument.documentElement)
  style.setProperty('visibility', 'visible', 'important')
  style.setProperty('animation', 'none', 'important')
}

/** Whether the visitor has seen the original already, so that a change would flash before their eyes. */
export function isTooLate(): boolean {
  // The browser notes a paint some time after it; whether the wait is over can be told at once.
  const [sheet] = waitStyles()
  if (sheet?.id) return performance.now() > +sheet.id
  if (sheet) return getComputedStyle(nativeDocument.documentElement).visibility === 'visible'
  return performance.getEntriesByName('first-contentful-paint').length > 0
}

function waitStyles(): HTMLStyleElement[] {
  return [...nativeDocument.querySelectorAll('style')].filter((sheet) =>
    sheet.textContent?.startsWith('@keyframes vetch{'),
  )
}
