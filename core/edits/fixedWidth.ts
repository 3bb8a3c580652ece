import type { Declarations } from './style'

/** A phone’s window, in CSS pixels. */
export const PHONE_WIDTH = 390

/**
 * How wide declarations make an element at least, where that is more than a phone’s window shows.
 *
 * @returns in CSS pixels; null where it stays within the window, or where only the page can tell
 *
 * @example widerThanPhone({ width: '915px' }) // 915
 * @example widerThanPhone({ width: '915px', 'max-width': '100%' }) // null
 */
export function widerThanPhone({ width, 'min-width': least, 'max-width': most }: Declarations): number | null {
  // A largest width in another unit than pixels goes with the window.
  const bound = most === undefined || most === 'none' ? Infinity : (pixels(most) ?? 0)
  const widest = Math.max(pixels(least) ?? 0, Math.min(pixels(width) ?? 0, bound))
  return widest > PHONE_WIDTH ? widest : null
}

function pixels(length: string | undefined): number | null {
  const [, number] = /^([\d.]+)px$/.exec(length?.trim() ?? '') ?? []
  return number === undefined ? null : Number(number)
}
