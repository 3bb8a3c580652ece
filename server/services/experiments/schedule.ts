import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { and, eq, inArray, isNull, lte, or } from 'drizzle-orm'
import { localMoment } from '../../../core/time/localMoment'
import type { ExperimentState } from '../../../shared/experiments/experiment'
import type { Database } from '../../database/connect'
import { experiment } from '../../database/schema'
import { announce } from '../../news/announce'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { endExperiment } from './endExperiment'
import { moveExperiment } from './experiments'
import { findSheet, lockSheet, type Target } from './sheet'

interface Times {
  start: string | null
  end: string | null
}

/**
 * Sets when an experiment starts and ends by itself.
 *
 * @param times - by the clock of the site; null for by hand
 * @throws HttpProblem 409 for one that has ended, 422 for a time that has passed
 */
export async function scheduleExperiment(
  database: Database,
  target: Target,
  times: Times,
  now: Date,
): Promise<ExperimentSheet> {
  const { siteId, experimentId, personId } = target
  return database.transaction(async (tx) => {
    const before = await lockSheet(tx, target)
    if (before.state === 'ended') throw new HttpProblem(409, 'This experiment has ended. Make a copy to run it again.')
    if (before.state !== 'draft' && times.start !== null)
      throw new HttpProblem(409, 'This experiment has started. Only its end can be set.')
    const startsAt = momentOf('start', times.start, before.timeZone)
    const endsAt = momentOf('end', times.end, before.timeZone)
    if (startsAt && startsAt <= now) throw wrong('start', 'This time has passed. Choose a later one.')
    if (endsAt && endsAt <= (startsAt ?? now)) throw wrong('end', 'It would end before it starts. Choose a later time.')
    await tx
      .update(experiment)
      .set({ startsAt, endsAt, scheduleProblem: null })
      .where(and(eq(experiment.siteId, siteId), eq(experiment.id, experimentId)))
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'experiment',
      subjectId: experimentId,
      action: 'scheduled',

      before: { ...before.schedule },
      after: { ...times },
      words: scheduleInWords(times),
    })
    await announce(tx, siteId, { kind: 'sheet', experiment: experimentId, version: before.version })
    return findSheet(tx, siteId, experimentId)
  })
}

function momentOf(field: keyof Times, local: string | null, timeZone: string): Date | null {
  if (local === null) return null
  try {
    return new Date(localMoment(local, timeZone).at)
  } catch (error) {
    if (error instanceof RangeError) throw wrong(field, 'There is no such day and time.')
    throw error
  }
}

function wrong(field: keyof Times, message: string): HttpProblem {
  return new HttpProblem(422, message, { [field]: message })
}

function scheduleInWords({ start, end }: Times): string {
  const at = (time: string) => time.replace('T', ' at ')
  if (start === null && end === null) return 'starts and ends by hand'
  const parts = [start && `starts on ${at(start)}`, end && `ends on ${at(end)}`].filter(Boolean)
  return parts.join(', ')
}

/**
 * Starts and ends what is due. What was missed while nothing ran is made up for, once: a start whose end has passed as
 * well is none any more. What cannot start says why, and waits for a person.
 */
export async function followSchedules(database: Database, now: Date): Promise<void> {
  const due = await database
    .select()
    .from(experiment)
    .where(
      and(
        isNull(experiment.deletedAt),
        or(
          and(eq(experiment.state, 'draft'), lte(experiment.startsAt, now)),
          and(inArray(experiment.state, ['running', 'paused']), lte(experiment.endsAt, now)),
        ),
      ),
    )
  const failures: unknown[] = []
  // What fails is tried again at the next look, and keeps no other from its time.
  for (const each of due) await followOne(database, each, now).catch((error: unknown) => failures.push(error))
  if (failures.length > 0) throw failures[0]
}

async function followOne(
  database: Database,
  { id, siteId, state, endsAt }: typeof experiment.$inferSelect,
  now: Date,
): Promise<void> {
  const target = { siteId, experimentId: id, personId: null }
  if (state !== 'draft')
    return settle(database, target, { endsAt: null }, () =>
      endExperiment(database, target, { variant: null, reason: 'It ended as it was scheduled.', person: null }),
    )
  if (!endsAt || endsAt > now)
    return settle(database, target, { startsAt: null }, () => moveExperiment(database, target, 'start'))
  const problem = 'It was to start and end while Vetch did not run. Choose other times.'
  await note(database, target, { startsAt: null, endsAt: null, scheduleProblem: problem }, 'draft')
}

type Noted = Partial<Pick<typeof experiment.$inferInsert, 'startsAt' | 'endsAt' | 'scheduleProblem'>>

/** Does what is due and takes it off the schedule, also where it is refused: then with the reason. */
async function settle(database: Database, target: Target, done: Noted, work: () => Promise<unknown>): Promise<void> {
  try {
    await work()
    await note(database, target, done)
  } catch (error) {
    if (!(error instanceof HttpProblem)) throw error
    // Changed at this very moment by somebody else: the next look finds it as it is then.
    if (error.status === 409) return
    await note(database, target, { ...done, scheduleProblem: error.message })
  }
}

async function note(
  database: Database,
  { siteId, experimentId }: Target,
  noted: Noted,
  state?: ExperimentState,
): Promise<void> {
  const [found] = await database
    .update(experiment)
    .set(noted)
    .where(
      and(
        eq(experiment.siteId, siteId),
        eq(experiment.id, experimentId),
        state ? eq(experiment.state, state) : undefined,
      ),
    )
    .returning({ version: experiment.version })
  if (found) await announce(database, siteId, { kind: 'sheet', experiment: experimentId, version: found.version })
}
