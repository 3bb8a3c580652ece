import type { Decision } from '../../../core/sheet/content'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { RolloutInput, ServedAfter } from '../../../shared/rollouts/rollout'
import type { Database } from '../../database/connect'
import { HttpProblem } from '../HttpProblem'
import { startRolloutIn } from '../rollouts/rollouts'
import { moveIn } from './experiments'
import { serveKeptIn } from './serveKept'
import { findSheet, type Target } from './sheet'

/**
 * Ends an experiment with the decision, which stays on its sheet. Where it is rolled out both happen at once: whoever had
 * the variant keeps it. Where some are held back it is served as a personalization, by which its effect is known.
 *
 * @param decision - which variant to keep; refused for one that the experiment does not have
 * @param rollout - to whom the variant goes from now on; null for nobody
 */
export async function endExperiment(
  database: Database,
  target: Target,
  decision: Decision,
  rollout: (RolloutInput & Partial<ServedAfter>) | null = null,
): Promise<ExperimentSheet> {
  const { variants } = await findSheet(database, target.siteId, target.experimentId)
  if (decision.variant !== null && !variants.some(({ id }) => id === decision.variant))
    throw new HttpProblem(422, 'Choose one of the variants.', { variant: 'Choose one of the variants.' })
  return database.transaction(async (tx) => {
    const ended = await moveIn(tx, target, 'end', { decision })
    const heldBack = rollout?.heldBack ?? 0
    if (rollout && heldBack > 0) await serveKeptIn(tx, target, decision.variant, { ...rollout, heldBack })
    else if (rollout) await startRolloutIn(tx, target, rollout, new Date())
    return ended
  })
}
