import type { PreflightReport } from '~~/shared/experiments/replies'

/** A person types on while it is looked at: after a pause only. */
const PAUSE = 700

/** What the traffic and the pages say of the open draft, looked at again whenever the server has another version of it. */
export function usePreflight() {
  const api = useApi()
  const store = useSheetStore()
  const report = shallowRef<PreflightReport | null>(null)
  const problem = ref<string | null>(null)
  const version = computed(() => store.work?.served.value?.version ?? 0)
  const isDraft = computed(() => store.sheet?.state === 'draft')
  /** What is shown belongs to an earlier version. */
  const isLooking = computed(() => isDraft.value && problem.value === null && report.value?.version !== version.value)

  async function look(): Promise<void> {
    if (!isDraft.value) return
    try {
      report.value = await api('readPreflight', store.place)
      problem.value = null
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      problem.value = error.message
    }
  }
  watchDebounced([version, isDraft], look, { debounce: PAUSE })
  watch(
    () => store.sheet?.id,
    () => {
      report.value = null
      void look()
    },
    { immediate: true },
  )
  return { report, problem, isLooking, look }
}
