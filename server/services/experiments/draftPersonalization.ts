import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { drawThingId } from '../../../shared/thingId'
import type { Database, Queries } from '../../database/connect'
import { HttpProblem } from '../HttpProblem'
import { hypothesisOf } from '../hypotheses/linkedExperiments'
import { fillSheetIn } from './changeSheet'
import { createExperimentIn } from './experiments'
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
  return database.transaction((tx) => draftPersonalizationIn(tx, target, variantId))
}

/** The same, within what else is done at once. */
export async function draftPersonalizationIn(tx: Queries, target: Target, variantId: string): Promise<ExperimentSheet> {
  const { siteId, experimentId, personId } = target
  const from = await findSheet(tx, siteId, experimentId)
  const position = from.variants.findIndex(({ id }) => id === variantId)
  if (position < 1) {
    const message = 'Choose a variant that changes something.'
    throw new HttpProblem(422, message, { variant: message })
  }
  const { name, edits } = from.variants[position]!
  const hypothesisId = await hypothesisOf(tx, siteId, experimentId)
  const draft = await createExperimentIn(tx, siteId, personId, {
    name: `${from.name}: ${name}`.slice(0, LONGEST_NAME),
    purpose: 'serve',
    hypothesisId,
    servedFrom: experimentId,
  })
  const [control, served] = draft.variants
  return fillSheetIn(
    tx,
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
