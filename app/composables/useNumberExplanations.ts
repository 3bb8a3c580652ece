import type { MetricResults } from '~~/shared/experiments/resultsReplies'
import type { ReadingMethod } from '~~/core/analysis/readings'
import type { ExplainedNumber } from '~~/shared/experiments/explanation'
import type { ExplainedFurther } from './useExplanation'

/** Asks what stands behind a number of the open sheet: of a metric and one of its arms. */
export function useNumberExplanations() {
  const api = useApi()
  const store = useSheetStore()
  return (number: ExplainedNumber, results?: MetricResults, variant = 0, method?: ReadingMethod) =>
    async (): Promise<ExplainedFurther> => {
      const asked = { ...store.place, query: { number, metric: results?.metric.versionId, variant, method } }
      const explanation = await api('explainNumber', asked)
      return { ...explanation, fromEvents: () => api('readEventsStatement', asked) }
    }
}
