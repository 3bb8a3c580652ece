import type { ExperimentSummary } from '~~/shared/experiments/replies'
import { PURPOSES } from '~~/core/sheet/content'

/** The latest experiments and personalizations of a site. */
export async function allSheets(api: ReturnType<typeof useApi>, site: number): Promise<ExperimentSummary[]> {
  const pages = await Promise.all(
    PURPOSES.map((purpose) => api('listExperiments', { site, query: { purpose, limit: 200 } })),
  )
  return pages.flatMap(({ items }) => items)
}
