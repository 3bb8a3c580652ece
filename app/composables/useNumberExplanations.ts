import type { ReadingMethod } from '~~/core/analysis/readings'
import type { MetricResults } from '~~/shared/experiment'
import type { Explanation, ExplainedNumber } from '~~/shared/explanation'

/** Asks what stands behind a number of the open sheet: of a metric and one of its arms. */
export function useNumberExplanations() {
  const api = useApi()
  const store = useSheetStore()
  return (number: ExplainedNumber, results?: MetricResults, variant = 0, method?: ReadingMethod) =>
    (): Promise<Explanation> =>
      api('explainNumber', { ...store.place, query: { number, metric: results?.metric.versionId, variant, method } })
}
