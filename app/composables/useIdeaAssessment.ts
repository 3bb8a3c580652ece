import type { Assessment } from '~~/shared/hypotheses/replies'
import { expectationSchema } from '~~/shared/hypotheses/hypothesis'
import { hypothesisBody, type HypothesisDraft } from '~/data/hypothesisDraft'

const PATIENCE = 400

/** What an idea would be worth and cost to learn, computed anew as it is written. */
export function useIdeaAssessment(siteId: number, draft: Ref<HypothesisDraft>) {
  const api = useApi()
  const body = computed(() => {
    const { pages, audience, metric, direction, low, likely, high, effortDays, strength } = hypothesisBody(draft.value)
    const asked = { pages, audience, metric, direction, low, likely, high, effortDays, strength }
    // What is not in order yet says so where it is saved; until then nothing is computed from it.
    if (metric === null) return null
    return expectationSchema.isValidSync(asked)
      ? asked
      : { ...asked, low: null, likely: null, high: null, effortDays: null }
  })
  const { value, problem, isLoading, reload } = useLoaded<Assessment | null>(async () =>
    body.value ? api('assessIdea', { site: siteId, body: body.value }) : null,
  )
  watchDebounced(() => JSON.stringify(body.value), reload, { debounce: PATIENCE })
  return { assessment: value, problem, isLoading, reload }
}
