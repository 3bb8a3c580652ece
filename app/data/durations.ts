/** A length of time as it is read: 4.2 s, 1 min 12 s, 2 h 5 min, 3 days. */
export function durationInWords(ms: number | null): string {
  if (ms === null) return '–'
  const seconds = ms / 1000
  if (seconds < 10) return `${seconds.toFixed(1)} s`
  if (seconds < 60) return `${Math.round(seconds)} s`
  const minutes = Math.round(seconds / 60)
  if (seconds < 3600) {
    const whole = Math.floor(seconds / 60)
    const rest = Math.round(seconds - whole * 60)
    return rest === 60 ? `${whole + 1} min` : rest === 0 ? `${whole} min` : `${whole} min ${rest} s`
  }
  if (minutes < 48 * 60) return `${Math.floor(minutes / 60)} h ${minutes % 60} min`
  return `${Math.round(minutes / 60 / 24)} days`
}

/** Recordings that are shorter are read in tenths of a second, in ms. */
const SHORT = 10_000

/**
 * A moment of a recording: 1:05, or 0:01.8 where all of it is short.
 *
 * @param length - of the whole recording, in ms
 */
export function clockTime(ms: number, length = Infinity): string {
  const tenths = Math.max(0, Math.floor(ms / 100))
  const seconds = Math.floor(tenths / 10)
  const rest = length < SHORT ? `.${tenths % 10}` : ''
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}${rest}`
}
