/** The first part of a path: pages of one template mostly share it. */
const areaOf = (path: string) => path.split('/')[1] ?? ''

/**
 * The page to look at next: of the area of which the fewest were looked at, the one that was found first. So that the
 * pages that are looked at are of as many templates as there are.
 *
 * @param found - paths in the order in which they were found
 * @param looked - those that were looked at, or are being looked at
 * @returns null where none is left
 */
export function nextToLookAt(found: readonly string[], looked: readonly string[]): string | null {
  const count = (area: string) => looked.filter((path) => areaOf(path) === area).length
  const left = found.filter((path) => !looked.includes(path))
  return left.toSorted((a, b) => count(areaOf(a)) - count(areaOf(b)))[0] ?? null
}
