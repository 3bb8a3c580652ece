/** Members whose names stand behind an @; of names that begin alike the longest. */
export function mentionedIn(words: string, members: readonly { id: number; name: string }[]): number[] {
  const longest = [...members].sort((a, b) => b.name.length - a.name.length)
  const found = new Set<number>()
  for (const { index } of words.matchAll(/@/g)) {
    const rest = words.slice(index + 1).toLowerCase()
    const named = longest.find(
      ({ name }) => rest.startsWith(name.toLowerCase()) && !/^[\p{L}\p{N}]/u.test(rest.slice(name.length)),
    )
    if (named) found.add(named.id)
  }
  return [...found]
}
