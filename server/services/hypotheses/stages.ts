import type { HypothesisView } from '../../../shared/hypotheses/replies'
import { and, asc, eq, gte, inArray, isNull, ne, sql } from 'drizzle-orm'
import type { Stage } from '../../../shared/hypotheses/hypothesis'
import type { Database, Queries } from '../../database/connect'
import { experiment, hypothesis } from '../../database/schema'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { findHypothesis } from './hypotheses'
import { lockHypothesis, type Target } from './lockHypothesis'
import { readTerms } from './terms'

/**
 * Moves a hypothesis to another stage.
 *
 * @throws HttpProblem 422 where the stage holds as many as it may, or setting aside and taking up lack a reason
 */
export async function setStage(
  database: Database,
  target: Target,
  { stage, reason }: { stage: Stage; reason: string | null },
): Promise<HypothesisView> {
  const { siteId, hypothesisId, personId } = target
  await database.transaction(async (tx) => {
    const before = await lockHypothesis(tx, target)
    if (before.stage === stage) return
    const isTurn = stage === 'set aside' || before.stage === 'set aside'
    if (isTurn && !reason) {
      const message = stage === 'set aside' ? 'Say why it is set aside.' : 'Say why it is taken up again.'
      throw new HttpProblem(422, message, { reason: message })
    }
    await checkLimit(tx, siteId, stage)
    await tx
      .update(hypothesis)
      .set({ stage, stageReason: isTurn ? reason : before.stageReason, version: before.version + 1 })
      .where(and(eq(hypothesis.siteId, siteId), eq(hypothesis.id, hypothesisId)))
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'hypothesis',
      subjectId: hypothesisId,
      action: 'moved',

      before: { stage: before.stage },
      after: { stage },
      words: `moved from “${before.stage}” to “${stage}”${reason ? `: ${reason}` : ''}`,
    })
  })
  return findHypothesis(database, siteId, hypothesisId, personId)
}

async function checkLimit(tx: Queries, siteId: number, stage: Stage): Promise<void> {
  const { limits } = await readTerms(tx, siteId)
  const limit = stage === 'worth testing' || stage === 'in test' ? limits[stage] : null
  if (limit === null) return
  const [found] = await tx
    .select({ count: sql<number>`count(*)::int` })
    .from(hypothesis)
    .where(and(eq(hypothesis.siteId, siteId), eq(hypothesis.stage, stage), isNull(hypothesis.deletedAt)))
  if (found!.count >= limit)
    throw new HttpProblem(
      422,
      `“${stage}” holds ${found!.count} already, and the team’s limit is ${limit}. Move one on first.`,
    )
}

/** Moves the hypothesis of an experiment along with it: into the test, and out of it with the last one that ends. */
export async function followExperiment(
  tx: Queries,
  { siteId, experimentId, personId }: { siteId: number; experimentId: number; personId: number | null },
  moved: 'start' | 'end',
): Promise<void> {
  const [own] = await tx
    .select({ hypothesisId: experiment.hypothesisId, name: experiment.name })
    .from(experiment)
    .where(and(eq(experiment.siteId, siteId), eq(experiment.id, experimentId)))
  if (!own || own.hypothesisId === null) return
  if (moved === 'end') {
    const [running] = await tx
      .select({ id: experiment.id })
      .from(experiment)
      .where(
        and(
          eq(experiment.siteId, siteId),
          eq(experiment.hypothesisId, own.hypothesisId),
          ne(experiment.id, experimentId),
          inArray(experiment.state, ['running', 'paused']),
          isNull(experiment.deletedAt),
        ),
      )
      .limit(1)
    if (running) return
  }
  const stage: Stage = moved === 'start' ? 'in test' : 'learned'
  const changed = await tx
    .update(hypothesis)
    .set({ stage, version: sql`${hypothesis.version} + 1` })
    .where(
      and(
        eq(hypothesis.siteId, siteId),
        eq(hypothesis.id, own.hypothesisId),
        ne(hypothesis.stage, stage),
        isNull(hypothesis.deletedAt),
      ),
    )
    .returning({ id: hypothesis.id })
  for (const { id } of changed)
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'hypothesis',
      subjectId: id,
      action: 'moved',
      after: { stage },
      words: `moved to “${stage}”: ${own.name} has ${moved === 'start' ? 'started' : 'ended'}`,
    })
}

/** Moves on whatever was put to a place by hand before, and what stands right behind it by hand. */
async function makeRoom(tx: Queries, { siteId, hypothesisId }: Target, place: number): Promise<void> {
  const behind = await tx
    .select({ id: hypothesis.id, place: hypothesis.handPlace })
    .from(hypothesis)
    .where(
      and(
        eq(hypothesis.siteId, siteId),
        gte(hypothesis.handPlace, place),
        ne(hypothesis.id, hypothesisId),
        isNull(hypothesis.deletedAt),
      ),
    )
    .orderBy(asc(hypothesis.handPlace))
    .for('no key update')
  let taken = place
  for (const each of behind) {
    if (each.place !== taken) return
    taken += 1
    await tx
      .update(hypothesis)
      .set({ handPlace: taken })
      .where(and(eq(hypothesis.siteId, siteId), eq(hypothesis.id, each.id)))
  }
}

/** Puts a hypothesis to a place of the list by hand, or gives it back to the ranking. */
export async function placeByHand(
  database: Database,
  target: Target,
  { place, reason }: { place: number | null; reason: string | null },
): Promise<HypothesisView> {
  const { siteId, hypothesisId, personId } = target
  await database.transaction(async (tx) => {
    const before = await lockHypothesis(tx, target)
    if (place !== null) await makeRoom(tx, target, place)
    await tx
      .update(hypothesis)
      .set({ handPlace: place, handReason: place === null ? null : reason, version: before.version + 1 })
      .where(and(eq(hypothesis.siteId, siteId), eq(hypothesis.id, hypothesisId)))
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'hypothesis',
      subjectId: hypothesisId,
      action: 'placed',

      before: { place: before.handPlace },
      after: { place },
      words: place === null ? 'given back to the ranking' : `put to place ${place}: ${reason}`,
    })
  })
  return findHypothesis(database, siteId, hypothesisId, personId)
}
