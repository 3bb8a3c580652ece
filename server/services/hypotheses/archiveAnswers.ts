import type { Similar, Thread } from '../../../shared/hypotheses/replies'
import { and, asc, eq, inArray, isNull } from 'drizzle-orm'
import type { Queries } from '../../database/connect'
import { finding, hypothesis, hypothesisFinding } from '../../database/schema'
import { rolloutsWhere } from '../rollouts/liveRollouts'
import { worthOfShipped } from '../rollouts/worthOfShipped'
import { experimentsByIds, experimentsOf, hypothesisOf } from './linkedExperiments'
import { SIMILAR_EXPERIMENTS, SIMILAR_HYPOTHESES } from './queries'

const MOST_SIMILAR = 5

/** Hypotheses and experiments that are like a text, with what came of them. */
export async function findSimilar(
  database: Queries,
  siteId: number,
  { text, except }: { text: string; except?: number },
): Promise<Similar> {
  const idsOf = ({ rows }: { rows: { id: number }[] }) => rows.map(({ id }) => id)
  const ids = idsOf(
    await database.execute<{ id: number }>(SIMILAR_HYPOTHESES(siteId, text, except ?? null, MOST_SIMILAR)),
  )
  const rows =
    ids.length === 0
      ? []
      : await database
          .select()
          .from(hypothesis)
          .where(and(eq(hypothesis.siteId, siteId), inArray(hypothesis.id, ids)))
  const experiments = await experimentsOf(database, siteId, ids)
  const found = new Map(rows.map((row) => [row.id, row]))
  return {
    hypotheses: ids.map((id) => {
      const { title, stage, stageReason } = found.get(id)!
      return { id, title, stage, stageReason, experiment: experiments.get(id)![0] ?? null }
    }),
    experiments: await experimentsByIds(
      database,
      siteId,
      idsOf(await database.execute<{ id: number }>(SIMILAR_EXPERIMENTS(siteId, text, MOST_SIMILAR))),
    ),
  }
}

/** What leads to a finding, hypothesis, experiment or rollout, and what follows from it. */
export async function readThread(
  database: Queries,
  siteId: number,
  asked: { finding?: number; hypothesis?: number; experiment?: number; rollout?: number },
  now = new Date(),
): Promise<Thread> {
  const served = await rolloutsWhere(database, siteId)
  const { rollout: rolledOut, ...rest } = asked
  const own = rolledOut === undefined ? undefined : served.find(({ row }) => row.id === rolledOut)
  if (rolledOut !== undefined && !own)
    return { findings: [], hypotheses: [], experiments: [], rollouts: [], worths: [] }
  const of = own ? { experiment: own.from.id } : rest
  const ids = await hypothesesOf(database, siteId, of)
  const hypotheses =
    ids.length === 0
      ? []
      : await database
          .select({ id: hypothesis.id, title: hypothesis.title, stage: hypothesis.stage })
          .from(hypothesis)
          .where(and(eq(hypothesis.siteId, siteId), inArray(hypothesis.id, ids), isNull(hypothesis.deletedAt)))
          .orderBy(asc(hypothesis.id))
  const known = hypotheses.map(({ id }) => id)
  const experiments = [...(await experimentsOf(database, siteId, known)).values()].flat()
  const alone = of.experiment !== undefined && !experiments.some(({ id }) => id === of.experiment)
  const shown = alone ? await experimentsByIds(database, siteId, [of.experiment!]) : experiments
  const rolledOutHere = served.filter(({ from }) => shown.some(({ id }) => id === from.id))
  const shipped = [
    ...rolledOutHere
      .filter(({ row }) => row.isOn)
      .map(({ row, from, position }) => ({ experiment: from.id, position, rolledOutAt: row.createdAt })),
    ...shown
      .filter(({ purpose, state }) => purpose === 'serve' && state === 'running')
      .map(({ id }) => ({ experiment: id, position: 1 })),
  ]
  return {
    findings: await findingsOf(database, siteId, known, of.finding),
    hypotheses,
    experiments: shown,
    rollouts: rolledOutHere.map(({ row, from, variant }) => ({
      id: row.id,
      name: from.name,
      variant: variant.name,
      isOn: row.isOn,
      share: row.share,
      experiment: from.id,
    })),
    worths: await worthOfShipped(database, siteId, shipped, now),
  }
}

async function hypothesesOf(
  database: Queries,
  siteId: number,
  of: { finding?: number; hypothesis?: number; experiment?: number },
): Promise<number[]> {
  if (of.hypothesis !== undefined) return [of.hypothesis]
  if (of.experiment !== undefined) {
    const id = await hypothesisOf(database, siteId, of.experiment)
    return id === null ? [] : [id]
  }
  const rows = await database
    .select({ id: hypothesisFinding.hypothesisId })
    .from(hypothesisFinding)
    .where(and(eq(hypothesisFinding.siteId, siteId), eq(hypothesisFinding.findingId, of.finding!)))
  return rows.map(({ id }) => id)
}

async function findingsOf(
  database: Queries,
  siteId: number,
  hypothesisIds: number[],
  asked: number | undefined,
): Promise<Thread['findings']> {
  const columns = { id: finding.id, title: finding.title }
  // Of a finding the thread is its own: what else a hypothesis comes from is told by the hypothesis.
  if (asked !== undefined)
    return database
      .select(columns)
      .from(finding)
      .where(and(eq(finding.siteId, siteId), eq(finding.id, asked)))
  if (hypothesisIds.length === 0) return []
  return database
    .selectDistinctOn([finding.id], columns)
    .from(hypothesisFinding)
    .innerJoin(finding, and(eq(finding.siteId, siteId), eq(finding.id, hypothesisFinding.findingId)))
    .where(and(eq(hypothesisFinding.siteId, siteId), inArray(hypothesisFinding.hypothesisId, hypothesisIds)))
    .orderBy(asc(finding.id))
}
