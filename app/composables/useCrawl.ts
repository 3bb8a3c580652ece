import { nextToLookAt } from '~/data/crawlOrder'
import type { InstallationReport } from '~~/shared/sites/replies'

export interface LookedAt {
  path: string
  findings: InstallationReport['findings']
}

/** Pages that are looked at in one go, and side by side. */
const MOST_PAGES = 20
const AT_ONCE = 3

/**
 * Looks for the script line on a site's own pages, from its home page along the links.
 *
 * @param check - looks at one page
 */
export function useCrawl(check: (path: string) => Promise<InstallationReport>) {
  const pages = ref<LookedAt[]>([])
  const isRunning = ref(false)
  const problem = ref('')
  const hasMore = ref(false)
  let turn = 0

  async function start(): Promise<void> {
    const own = ++turn
    const found = ['/']
    const begun: string[] = []
    pages.value = []
    problem.value = ''
    hasMore.value = false
    isRunning.value = true
    const look = async (path: string) => {
      const { findings, links } = await check(path)
      if (own !== turn) return
      pages.value = [...pages.value, { path, findings }]
      found.push(...links.filter((link) => !found.includes(link)))
    }
    const nextPages = () => {
      const before = begun.length
      while (begun.length < Math.min(before + AT_ONCE, MOST_PAGES)) {
        const path = nextToLookAt(found, begun)
        if (path === null) break
        begun.push(path)
      }
      return begun.slice(before)
    }
    try {
      for (let next = nextPages(); next.length > 0 && own === turn; next = nextPages())
        await Promise.all(next.map(look))
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      if (own === turn) problem.value = error.message
    } finally {
      if (own === turn) {
        isRunning.value = false
        hasMore.value = found.length > begun.length
      }
    }
  }
  function cancel(): void {
    turn++
    isRunning.value = false
  }
  onScopeDispose(cancel)
  return { pages, isRunning, problem, hasMore, start, cancel }
}
