/**
 * Whether a text is one that a pattern describes: `*` stands for any text, also none; everything else for itself.
 * Takes time in proportion to both lengths multiplied, whatever the pattern.
 *
 * @example matchesWildcards('/crossings/*\/fares', '/crossings/torrin/fares') // true
 */
export function matchesWildcards(pattern: string, text: string): boolean {
  const [first = '', ...rest] = pattern.split('*')
  if (rest.length === 0) return text === pattern
  if (!text.startsWith(first)) return false
  const last = rest.pop()!
  let at = first.length
  for (const piece of rest) {
    const found = text.indexOf(piece, at)
    if (found < 0) return false
    at = found + piece.length
  }
  return text.length - last.length >= at && text.endsWith(last)
}
