import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { and, eq, isNotNull, isNull } from 'drizzle-orm'
import { rampMove, type RampMove } from '../../../core/sheet/ramp'
import type { Database, Queries } from '../../database/connect'
import { experiment } from '../../database/schema'
import { announce } from '../../news/announce'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { tell } from '../notifications/tell'
import { findSheet, lockSheet, type Target } from '../experiments/sheet'
import { compileSiteFile } from '../sites/compileSiteFile'
import { storedSummaries } from '../results/summaries'
import { reserveBuckets } from './groups'

const AGAINST: readonly string[] = ['distrust', 'harm']

/** Takes the next step of every ramp whose step has lasted its days, while nothing speaks against it. */
export async function followRamps(database: Database, now: Date): Promise<void> {
  const due = await database
    .select({ siteId: experiment.siteId, experimentId: experiment.id })
    .from(experiment)
    .where(and(eq(experiment.state, 'running'), isNotNull(experiment.rampStep), isNull(experiment.deletedAt)))
  const failures: unknown[] = []
  for (const each of due)
    await takeStep(database, { ...each, personId: null }, now, false).catch((error: unknown) => failures.push(error))
  if (failures.length > 0) throw failures[0]
}

/** Takes the next step at once, because a person says so. */
export async function advanceRamp(database: Database, target: Target, now: Date): Promise<ExperimentSheet> {
  const moved = await takeStep(database, target, now, true)
  if (!moved) throw new HttpProblem(409, 'This experiment has no ramp that could go on.')
  return findSheet(database, target.siteId, target.experimentId)
}

async function takeStep(database: Database, target: Target, now: Date, isByHand: boolean): Promise<boolean> {
  return database.transaction(async (tx) => {
    const before = await lockSheet(tx, target)
    const [row] = await tx.select().from(experiment).where(own(target))
    if (before.state !== 'running' || !row || row.rampStep === null || !row.rampSince || row.rampFinal === null)
      return false
    const state = { step: row.rampStep, since: isByHand ? -Infinity : row.rampSince.getTime() }
    const against = isByHand ? [] : await reasonsAgainst(tx, before)
    const move = rampMove(before.terms.ramp, row.rampFinal, before.share, state, against, now.getTime())
    if (move.do === 'raise') await raise(tx, target, before, move, isByHand)
    else if (move.do === 'hold' && move.reason !== row.rampProblem) {
      await tx.update(experiment).set({ rampProblem: move.reason }).where(own(target))
      await announce(tx, target.siteId, { kind: 'sheet', experiment: target.experimentId, version: before.version })
      if (move.reason !== null)
        await tell(tx, {
          siteId: target.siteId,
          experimentId: target.experimentId,
          kind: 'step',
          title: before.name,
          text: move.reason,
          path: `/experiments/${target.experimentId}`,
          at: now,
        })
    }
    return true
  })
}

async function raise(
  tx: Queries,
  target: Target,
  before: ExperimentSheet,
  { share, next }: Extract<RampMove, { do: 'raise' }>,
  isByHand: boolean,
): Promise<void> {
  const { siteId, experimentId, personId } = target
  await reserveBuckets(tx, before, share)
  await tx
    .update(experiment)
    .set({
      share,
      version: before.version + 1,
      rampStep: next?.step ?? null,
      rampSince: next ? new Date(next.since) : null,
      rampProblem: null,
    })
    .where(own(target))
  await recordChange(tx, {
    siteId,
    personId,
    subject: 'experiment',
    subjectId: experimentId,
    action: 'changed',

    before: { share: before.share },
    after: { share },
    words: `Traffic share: ${before.share / 100} % became ${share / 100} %, ${isByHand ? 'the next step of the ramp, by hand' : 'as the ramp said'}`,
  })
  await compileSiteFile(tx, siteId)
  await announce(tx, siteId, { kind: 'sheet', experiment: experimentId, version: before.version + 1 })
}

/** What the results say against more visitors: harm to a guardrail or the primary metric, data not to be trusted. */
async function reasonsAgainst(tx: Queries, { id, siteId }: ExperimentSheet): Promise<string[]> {
  const summary = (await storedSummaries(tx, siteId, [id])).get(id)
  const against = [summary?.verdict, summary?.since].find((verdict) => verdict && AGAINST.includes(verdict.kind))
  return against ? [`${against.title} ${against.reasons[0] ?? ''}`.trim()] : []
}

function own({ siteId, experimentId }: Target) {
  return and(eq(experiment.siteId, siteId), eq(experiment.id, experimentId))
}
