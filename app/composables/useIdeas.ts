import type { IdeaMetric } from '~~/shared/hypotheses/replies'

/** A site's hypotheses, whose figures are computed anew beside them where they are of another day. */
export function useIdeas(siteId: number) {
  const api = useApi()
  const account = useAccountStore()
  const loaded = useLoaded(() => api('listHypotheses', { site: siteId }))
  const { progress, problem: figuresProblem, refresh, stop } = useFigures(siteId)
  watch(loaded.value, async (view) => {
    if (view && view.stale > 0 && (await refresh(view.stale))) await loaded.reload()
  })
  const metrics = computed(() => new Map((loaded.value.value?.metrics ?? []).map((each) => [each.id, each])))
  return {
    ...loaded,

    api,
    siteId,
    metrics,
    progress,
    figuresProblem,
    stop,
    timeZone: computed(() => account.site(siteId)?.timeZone ?? 'UTC'),
    mayEdit: computed(() => account.site(siteId)?.role !== 'viewer'),
  }
}
export type IdeaMetrics = ReadonlyMap<string, IdeaMetric>

/** Computes figures that are missing or old, some in a call, with progress and a way to stop. */
function useFigures(siteId: number) {
  const api = useApi()
  const progress = ref<number | null>(null)
  const problem = ref<string | null>(null)
  let turn = 0

  /** @returns whether anything was computed */
  async function refresh(count: number): Promise<boolean> {
    if (progress.value !== null) return false
    const own = (turn += 1)
    progress.value = 0
    problem.value = null
    let done = 0
    try {
      for (let left = count; left > 0 && own === turn;) {
        const step = await api('refreshIdeas', { site: siteId })
        done += step.done
        if (step.done === 0) break
        left = step.left
        if (own === turn) progress.value = done / (done + left)
      }
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      if (own === turn) problem.value = error.message
    } finally {
      if (own === turn) progress.value = null
    }
    return done > 0
  }
  function stop(): void {
    turn += 1
    progress.value = null
  }
  onScopeDispose(stop)
  return { progress, problem, refresh, stop }
}
