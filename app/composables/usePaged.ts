import type { Paged } from '~~/shared/api/paging'

/**
 * A list that is loaded a page at a time: what is there so far, and whether there is more.
 *
 * @param isLazy - whether nothing is loaded before `reload` is called
 */
export function usePaged<Item>(load: (after: number | undefined) => Promise<Paged<Item>>, isLazy = false) {
  const items = shallowRef<Item[] | null>(null)
  const next = ref<number | null>(null)
  const problem = ref<string | null>(null)
  /** An answer that a later one has overtaken says nothing any more. */
  let latest = 0

  async function add(after: number | undefined, before: Item[]): Promise<void> {
    const turn = (latest += 1)
    try {
      const page = await load(after)
      if (turn !== latest) return
      items.value = [...before, ...page.items]
      next.value = page.next
      problem.value = null
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      if (turn === latest) problem.value = error.message
    }
  }
  const reload = () => add(undefined, [])
  const loadMore = () => add(next.value ?? undefined, items.value ?? [])
  if (!isLazy) void reload()
  return { items, hasMore: computed(() => next.value !== null), problem, reload, loadMore }
}
