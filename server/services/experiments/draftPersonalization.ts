import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { and, eq } from 'drizzle-orm'
import { drawThingId } from '../../../shared/thingId'
import type { Database } from '../../database/connect'
import { experiment } from '../../database/schema'
import { HttpProblem } from '../HttpProblem'
import { fillSheet } from './changeSheet'
import { createExperiment } from './experiments'
import { findSheet, type Target } from './sheet'

const LONGEST_NAME = 120

/**
 * Drafts a personalization that serves what a variant shows, on the same pages to the same audience, for somebody to
 * change before it starts. The experiment goes on as it is.
 *
 * @throws HttpProblem 422 for the control, or a variant that the experiment does not have
 */
export async function draftPersonalization(
  database: Database,
  target: Target,
  variantId: string,
): Promise<ExperimentSheet> {
  const { siteId, experimentId, personId } = target
  const from = await findSheet(database, siteId, experimentId)
  const position = from.variants.findIndex(({ id }) => id === variantId)
  if (position < 1) {
    const message = 'Choose a variant that changes something.'
    throw new HttpProblem(422, message, { variant: message })
  }
  const { name, edits } = from.variants[position]!
  const draft = await createExperiment(
    database,
    siteId,
    personId,
    `${from.name}: ${name}`.slice(0, LONGEST_NAME),
    'serve',
  )
  const [row] = await database
    .select({ hypothesisId: experiment.hypothesisId })
    .from(experiment)
    .where(and(eq(experiment.siteId, siteId), eq(experiment.id, experimentId)))
  await database
    .update(experiment)
    .set({ hypothesisId: row!.hypothesisId })
    .where(and(eq(experiment.siteId, siteId), eq(experiment.id, draft.id)))
  const [control, served] = draft.variants
  return fillSheet(
    database,
    { siteId, experimentId: draft.id, personId },
    {
      hypothesis: from.hypothesis,
      pageRules: from.pageRules,
      audience: from.audience,
      // What takes its turns among tests, or begins with few, is theirs.
      terms: { ...from.terms, group: null, rank: 1, ramp: [] },
      metrics: from.metrics.map(({ versionId: _, ...metric }) => metric),
      variants: [control!, { ...served!, name, edits: edits.map((edit) => ({ ...edit, id: drawThingId() })) }],
    },
  )
}
