import type { Assessment } from '../../../shared/hypotheses/replies'
import type { InferType } from 'yup'
import type { expectationSchema } from '../../../shared/hypotheses/hypothesis'
import type { Queries } from '../../database/connect'
import type { EvidenceThread } from '../evidence/askEvidence'
import { siteMetrics } from '../evidence/choices'
import { HttpProblem } from '../HttpProblem'
import { assess } from './assess'
import { computeFigures } from './ideaFigures'
import { readPast, readTerms } from './terms'

/** What an idea would be worth and cost to learn, before anybody has written it down. */
export async function assessIdea(
  place: { database: Queries; evidence: Pick<EvidenceThread, 'ask'>; siteId: number },
  { pages, audience, metric: metricId, ...expectation }: InferType<typeof expectationSchema>,
  now: Date,
): Promise<Assessment> {
  const { database, siteId } = place
  const metric = (await siteMetrics(database, siteId)).find(({ id }) => id === metricId)
  if (!metric || metricId === null) {
    const message = 'Choose a metric: reach and rate are computed by it.'
    throw new HttpProblem(422, message, { metric: message })
  }
  const [figures] = await computeFigures(place, [{ pages: pages ?? '', audience: audience ?? '', metricId }], now)
  const readings = { terms: await readTerms(database, siteId), past: await readPast(database, siteId) }
  return assess(figures!, metric, expectation, readings)
}
