import type { ExperimentResults } from '~~/shared/experiments/resultsReplies'

const EVERY = 5000

/** The results of the open sheet, refreshed for as long as visitors may come. */
export function useResults() {
  const api = useApi()
  const store = useSheetStore()
  const results = shallowRef<ExperimentResults | null>(null)
  /** The last refresh failed: what is shown is from before. */
  const isStale = ref(false)

  async function refresh(): Promise<void> {
    if (!store.sheet?.startedAt) return
    try {
      results.value = await api('readResults', store.place)
      isStale.value = false
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      isStale.value = true
    }
  }
  watch(() => store.sheet?.version, refresh, { immediate: true })
  useIntervalFn(() => {
    if (store.sheet?.state !== 'ended' && document.visibilityState === 'visible') void refresh()
  }, EVERY)
  return { results, isStale, refresh }
}
