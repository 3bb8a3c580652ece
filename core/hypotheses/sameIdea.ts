/** What tells an idea from another one. */
export interface Idea {
  title: string
  pages?: string | null
  audience?: string | null
  metric?: string | null
}

/**
 * A text that is the same for ideas that say the same of the same pages, audience and metric, in capitals or not.
 *
 * @example ideaKey({ title: 'Ask later ' }) === ideaKey({ title: 'ask  later' }) // true
 */
export function ideaKey({ title, pages, audience, metric }: Idea): string {
  const plain = title.normalize('NFKC').toLowerCase().replace(/\s+/g, ' ').trim()
  return JSON.stringify([plain, pages ?? null, audience ?? null, metric ?? null])
}

/** An idea that another one of the list, or one that is known already, says as well. */
export interface Repeated {
  /** Place in the list. */
  row: number
  /** Place of the first that says it; null for one that was known before. */
  of: number | null
}

/** Ideas of a list that are there already, or came before in it. */
export function repeatedIdeas(ideas: readonly (Idea | null)[], known: readonly Idea[]): Repeated[] {
  const first = new Map<string, number | null>(known.map((idea) => [ideaKey(idea), null]))
  return ideas.flatMap((idea, row) => {
    if (!idea) return []
    const key = ideaKey(idea)
    if (first.has(key)) return [{ row, of: first.get(key)! }]
    first.set(key, row)
    return []
  })
}
