import { and, eq } from 'drizzle-orm'
import { BUCKETS } from '../../../core/assignment/assignment'
import type { ServedAfter } from '../../../shared/rollouts/rollout'
import type { Queries } from '../../database/connect'
import { experiment } from '../../database/schema'
import { fillSheetIn } from './changeSheet'
import { draftPersonalizationIn } from './draftPersonalization'
import { moveIn, VISITORS_OF_SERVED } from './experiments'
import { saltsOf } from './salts'
import { findSheet, type Target } from './sheet'

/**
 * Serves what an experiment keeps from now on, but for a share of the visitors. These are drawn by the salt of the
 * experiment: they were in its control before, so nobody who had the variant loses it. Held by
 * `tests/integration/personalization.test.ts`.
 *
 * @throws HttpProblem 422 for the control, or no variant
 */
export async function serveKeptIn(
  tx: Queries,
  target: Target,
  variantId: string | null,
  { share, isForEverybody, heldBack }: ServedAfter,
): Promise<void> {
  const { siteId, personId } = target
  const ended = await findSheet(tx, siteId, target.experimentId)
  const draft = await draftPersonalizationIn(tx, target, variantId ?? '')
  const own = { siteId, experimentId: draft.id, personId }
  const [control, served] = draft.variants
  const sheet = await fillSheetIn(tx, own, {
    share,
    ...(isForEverybody ? { audience: null } : {}),
    variants: [
      { ...control!, weight: heldBack },
      { ...served!, weight: BUCKETS - heldBack },
    ],
  })
  const salts = await saltsOf(tx, siteId, [target.experimentId])
  await tx
    .update(experiment)
    .set({ salt: salts.get(target.experimentId)!.salt })
    .where(and(eq(experiment.siteId, siteId), eq(experiment.id, draft.id)))
  // What the experiment expected of its pages is what is known of them.
  const { plannedVisitors, baseline, mean = null, deviation = null } = ended.plan
  const plan = { ...sheet.plan, plannedVisitors: plannedVisitors ?? VISITORS_OF_SERVED, baseline, mean, deviation }
  const looked = { version: sheet.version, plan, expectation: null, stops: [] }
  await moveIn(tx, own, 'start', { looked })
}
