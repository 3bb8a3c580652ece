import { and, eq, inArray, isNotNull } from 'drizzle-orm'
import { siteDays } from '../../../core/time/siteDay'
import { CAUSE_WORDS } from '../../../core/traffic/splitCauses'
import { isOffAgain } from '../../../core/traffic/splitSettlement'
import type { SplitSettlementInput } from '../../../shared/experiments/splitSettlement'
import type { Database, Queries } from '../../database/connect'
import { experiment, exposureCount } from '../../database/schema'
import { announce } from '../../news/announce'
import { recordChange } from '../changes'
import { groupBy } from '../groupBy'
import { HttpProblem } from '../HttpProblem'
import { endExperiment } from './endExperiment'
import { copyExperiment } from './experiments'
import { findSheets, lockSheet, type Target } from './sheet'

/**
 * Writes down why the split of an experiment is not as set. From then on nobody is asked to look for the cause, unless
 * the split of later days is off as well. Restarting ends the experiment without a decision, and begins a draft like it.
 *
 * @param person - name of whoever says so
 * @returns id of the draft
 */
export async function settleSplit(
  database: Database,
  target: Target,
  person: string | null,
  { cause, words, act }: SplitSettlementInput,
): Promise<{ copy: number | null }> {
  const title = cause === 'other' ? words : `${CAUSE_WORDS[cause].title}: ${words}`
  await database.transaction(async (tx) => {
    const { state, timeZone } = await lockSheet(tx, target)
    if (state === 'draft') throw new HttpProblem(409, 'This experiment has not been started: it has no visitors yet.')
    if (act === 'restart' && state === 'ended')
      throw new HttpProblem(409, 'This experiment is ended already. Make a copy of it.')
    const now = new Date()
    const day = siteDays(timeZone)(now.getTime())
    await write(
      tx,
      target,
      { cause, words, person, at: now.toISOString(), day },
      `named the cause of the split: ${title}`,
    )
  })
  if (act !== 'restart') return { copy: null }
  const reason = `The split was not as set. ${title}`.slice(0, 2000)
  // Ended first: who presses twice, or in a second tab, is refused here, and makes no second copy.
  await endExperiment(database, target, { variant: null, reason, person })
  const copy = await copyExperiment(database, target)
  return { copy: copy.id }
}

/** Withdraws the named cause. */
export async function reopenSplit(database: Database, target: Target): Promise<void> {
  await database.transaction(async (tx) => {
    const { splitSettlement } = await lockSheet(tx, target)
    if (!splitSettlement) throw new HttpProblem(404, 'No cause has been named.')
    await write(tx, target, null, 'withdrew the named cause of the split')
  })
}

/** Of some experiments those whose cause has been named, and whose split is as set since. */
export async function settledAmong(database: Queries, siteId: number, ids: readonly number[]): Promise<Set<number>> {
  const settled = await database
    .select({ id: experiment.id, settlement: experiment.splitSettlement })
    .from(experiment)
    .where(and(eq(experiment.siteId, siteId), inArray(experiment.id, [...ids]), isNotNull(experiment.splitSettlement)))
  const found = new Set<number>()
  for (const { id, settlement } of settled) {
    const [sheet] = await findSheets(database, siteId, [id])
    const weights = sheet!.variants.map(({ weight }) => weight)
    if (!isOffAgain(settlement!, await visitorsByDay(database, siteId, id, weights.length), weights)) found.add(id)
  }
  return found
}

async function visitorsByDay(database: Queries, siteId: number, experimentId: number, arms: number) {
  const rows = await database
    .select({ day: exposureCount.value, variant: exposureCount.variant, visitors: exposureCount.visitors })
    .from(exposureCount)
    .where(
      and(
        eq(exposureCount.siteId, siteId),
        eq(exposureCount.experimentId, experimentId),
        eq(exposureCount.dimension, 'day'),
      ),
    )
  return [...groupBy(rows, ({ day }) => day)].map(([day, own]) => ({
    day,
    visitors: Array.from({ length: arms }, (_, arm) => own.find(({ variant }) => variant === arm)?.visitors ?? 0),
  }))
}

async function write(
  tx: Queries,
  target: Target,
  splitSettlement: typeof experiment.$inferSelect.splitSettlement,
  words: string,
): Promise<void> {
  const { siteId, experimentId, personId } = target
  const { version } = await lockSheet(tx, target)
  await tx
    .update(experiment)
    .set({ splitSettlement, version: version + 1 })
    .where(and(eq(experiment.siteId, siteId), eq(experiment.id, experimentId)))
  await recordChange(tx, {
    siteId,
    personId,
    subject: 'experiment',
    subjectId: experimentId,
    action: 'changed',
    words,
  })
  await announce(tx, siteId, { kind: 'sheet', experiment: experimentId, version: version + 1 })
}
