import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { randomBytes } from 'node:crypto'
import { and, eq } from 'drizzle-orm'
import { BUCKETS } from '../../../core/assignment/assignment'
import type { Decision, Purpose } from '../../../core/sheet/content'
import { planOfNew } from '../../../core/sheet/defaultPlan'
import { USUAL_HELD_BACK } from '../../../core/sheet/heldBack'
import { askedAudience } from '../../../core/sheet/wordings'
import { contentOf, type ExperimentState } from '../../../shared/experiments/experiment'
import { drawThingId } from '../../../shared/thingId'
import type { Database, Queries } from '../../database/connect'
import { driftCheck, experiment } from '../../database/schema'
import { announce } from '../../news/announce'
import { versionsOf } from '../audiences/savedAudiences'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { hypothesisOf } from '../hypotheses/linkedExperiments'
import { followExperiment } from '../hypotheses/stages'
import { refreshSummaries } from '../results/summaries'
import { tell } from '../notifications/tell'
import { liveRollouts } from '../rollouts/liveRollouts'
import { compileSiteFile } from '../sites/compileSiteFile'
import { findSite } from '../sites/sites'
import { reserveBuckets } from '../traffic/groups'
import { beginPeriods } from '../traffic/movingSplits'
import { fillSheetIn } from './changeSheet'
import { lookAtTraffic, type LookAtTraffic } from './lookAtTraffic'
import { measureEverything } from './measureEverything'
import { findSheet, lockSheet, type Target } from './sheet'
import { saveVariants } from './variants'

/** Names and weights of a new sheet. */
const FRESH_VARIANTS: Record<Purpose, { names: readonly string[]; weights: readonly number[] }> = {
  test: { names: ['Control', 'Variant B'], weights: [1, 1] },
  serve: { names: ['Held back', 'Served'], weights: [USUAL_HELD_BACK, BUCKETS - USUAL_HELD_BACK] },
}

/** Creates a draft with a control and one variant. */
export async function createExperiment(
  database: Database,
  siteId: number,
  personId: number | null,
  name: string,
  purpose: Purpose = 'test',
): Promise<ExperimentSheet> {
  return database.transaction((tx) => createExperimentIn(tx, siteId, personId, { name, purpose, hypothesisId: null }))
}

interface NewExperiment {
  name: string
  purpose: Purpose
  /** The hypothesis that it is made from. */
  hypothesisId: number | null
  /** Of a personalization, the experiment that it serves something of. */
  servedFrom?: number
}

/** The same, within what else is done at once. */
export async function createExperimentIn(
  tx: Queries,
  siteId: number,
  personId: number | null,
  { name, purpose, hypothesisId, servedFrom }: NewExperiment,
): Promise<ExperimentSheet> {
  const { environmentOf } = await findSite(tx, siteId)
  if (environmentOf !== null)
    throw new HttpProblem(409, 'This is an environment of another site. Make experiments there, and show them here.')
  const salt = randomBytes(6).toString('base64url')
  const [made] = await tx
    .insert(experiment)
    .values({
      siteId,
      name,
      purpose,
      hypothesisId,
      servedFrom,
      salt,
      pageRules: [],
      plan: planOfNew(purpose),
      createdBy: personId,
    })
    .returning()
  const { names, weights } = FRESH_VARIANTS[purpose]
  const variants = names.map((each, position) => ({
    id: drawThingId(),
    name: each,
    weight: weights[position]!,
    edits: [],
  }))
  await saveVariants(tx, siteId, made!.id, { factors: [], variants })
  await recordChange(tx, {
    siteId,
    personId,
    subject: 'experiment',
    subjectId: made!.id,
    action: 'created',
    after: { name },
  })
  return findSheet(tx, siteId, made!.id)
}

const TRANSITIONS = {
  start: { from: ['draft'], to: 'running', action: 'started' },
  pause: { from: ['running'], to: 'paused', action: 'paused' },
  resume: { from: ['paused'], to: 'running', action: 'resumed' },
  end: { from: ['running', 'paused'], to: 'ended', action: 'ended' },
} as const satisfies Record<string, { from: readonly ExperimentState[]; to: ExperimentState; action: string }>
export type Transition = keyof typeof TRANSITIONS

interface MoveOptions {
  /** The version that was read: a start freezes what the person has seen, and nothing else. */
  version?: number
  /** Of an end. */
  decision?: Decision
  /** For the change log, where nobody has done it by hand. */
  words?: string
  /** Of a start: how the traffic is looked at, where not in this process. */
  look?: LookAtTraffic
}

/** Starts, pauses, resumes or ends an experiment, and compiles the site file that visitors get from then on. */
export async function moveExperiment(
  database: Database,
  target: Target,
  transition: Transition,
  { version, decision, words, look = (...asked) => lookAtTraffic(database, ...asked) }: MoveOptions = {},
): Promise<ExperimentSheet> {
  const looked = transition === 'start' ? await lookBeforeStart(database, target, look) : null
  return database.transaction((tx) => moveIn(tx, target, transition, { version, decision, words, looked }))
}

interface Moved extends Pick<MoveOptions, 'version' | 'decision' | 'words'> {
  /** What was found before a start. */
  looked?: Awaited<ReturnType<typeof lookBeforeStart>> | null
}

/** The same, within what else is done at once. */
export async function moveIn(
  tx: Queries,
  target: Target,
  transition: Transition,
  { version, decision, words, looked = null }: Moved,
): Promise<ExperimentSheet> {
  const { siteId, experimentId, personId } = target
  const { from, to, action } = TRANSITIONS[transition]
  const before = await lockSheet(tx, target)
  if (!(from as readonly ExperimentState[]).includes(before.state))
    throw new HttpProblem(409, `This experiment is ${STATE_WORDS[before.state]}, so it cannot be ${action}.`)
  if (before.version !== (version ?? looked?.version ?? before.version))
    throw new HttpProblem(409, 'This sheet has been changed since you read it. Look at it again, then start.')
  const stops = looked ? [...before.preflight, ...looked.stops] : []
  if (stops.length > 0) {
    throw new HttpProblem(
      422,
      `Preflight has ${stops.length} open point${stops.length === 1 ? '' : 's'}: ${stops[0]!.text}`,
    )
  }
  await tx
    .update(experiment)
    .set({
      state: to,
      version: before.version + 1,
      ...(looked ? { plan: looked.plan, expectation: looked.expectation, ...(await started(tx, before)) } : {}),
      // A step of a ramp that was paused begins anew.
      ...(transition === 'resume' && before.ramp ? { rampSince: new Date() } : {}),
      ...(transition === 'end' ? { endedAt: new Date(), decision, buckets: null, rampStep: null } : {}),
    })
    .where(and(eq(experiment.siteId, siteId), eq(experiment.id, experimentId)))
  if (transition === 'resume')
    await tx
      .update(driftCheck)
      .set({ pausedFor: null })
      .where(and(eq(driftCheck.siteId, siteId), eq(driftCheck.experimentId, experimentId)))
  if (transition === 'start' && before.purpose === 'serve') await measureEverything(tx, before)
  if (before.purpose === 'test' && (transition === 'start' || transition === 'end'))
    await followExperiment(tx, target, transition)
  await compileSiteFile(tx, siteId)
  await announce(tx, siteId, { kind: 'sheet', experiment: experimentId, version: before.version + 1 })
  await refreshSummaries(tx, siteId, [experimentId], new Date())
  const said = words ?? (decision ? decisionInWords(before, decision) : null)
  await recordChange(tx, {
    siteId,
    personId,
    subject: 'experiment',
    subjectId: experimentId,
    action,
    before: { state: before.state },
    after: { state: to },
    words: said,
  })
  if (action !== 'resumed')
    await tell(tx, {
      siteId,
      experimentId,
      kind: action,
      title: before.name,
      text: said === null ? '' : `It ${said}`,
      path: `/experiments/${experimentId}`,
      at: new Date(),
      by: personId,
    })
  return findSheet(tx, siteId, experimentId)
}

/** What a start writes down: its moment, versions, and the first step of a ramp. */
async function started(tx: Queries, sheet: ExperimentSheet): Promise<Partial<typeof experiment.$inferInsert>> {
  const { siteId, share, terms } = sheet
  const asked = askedAudience(sheet)
  const now = new Date()
  const [first] = terms.ramp
  await reserveBuckets(tx, sheet, share)
  if (sheet.plan.split === 'moving') await beginPeriods(tx, sheet, now)
  return {
    startedAt: now,
    startsAt: null,
    scheduleProblem: null,
    audienceVersions: asked ? await versionsOf(tx, siteId, asked) : null,
    ...(first ? { share: first.share, rampStep: 0, rampSince: now, rampFinal: share } : {}),
  }
}

function decisionInWords({ purpose, variants }: ExperimentSheet, { variant, reason }: Decision): string {
  // Nothing was to be decided of what is served.
  if (purpose === 'serve') return reason ? `stopped: ${reason}` : 'stopped'
  const kept = variants.find(({ id }) => id === variant)
  return `ended; ${kept ? `“${kept.name}” is kept` : 'nothing was decided'}${reason ? `: ${reason}` : ''}`
}

/** Looks at the traffic before a start, and writes into the plan what follows from it. */
async function lookBeforeStart(database: Database, { siteId, experimentId }: Target, look: LookAtTraffic) {
  const sheet = await findSheet(database, siteId, experimentId)
  const { reading, findings, forecast } = await look(sheet, new Date())
  const { plannedVisitors, baseline, mean, deviation } = reading
  return {
    version: sheet.version,
    plan: {
      ...sheet.plan,
      // What is served goes on: no number of visitors ends it, and intervals are made narrowest for some.
      plannedVisitors: plannedVisitors ?? (sheet.purpose === 'serve' ? VISITORS_OF_SERVED : null),
      baseline,
      mean,
      deviation,
    },
    expectation: sheet.plan.adjustedBy === 'past' ? (forecast.expectation ?? null) : null,
    stops: findings.filter(({ isStop }) => isStop),
  }
}

/** Where the traffic does not say how many a personalization will have. */
export const VISITORS_OF_SERVED = 10_000

const STATE_WORDS: Record<ExperimentState, string> = {
  draft: 'a draft',
  running: 'running',
  paused: 'paused',
  ended: 'ended',
}

/** A new draft with everything of an experiment but its visitors. */
export async function copyExperiment(database: Database, target: Target): Promise<ExperimentSheet> {
  const { siteId, experimentId, personId } = target
  const original = await findSheet(database, siteId, experimentId)
  const { name, ...copied } = contentOf(original)
  const hypothesisId = await hypothesisOf(database, siteId, experimentId)
  return database.transaction(async (tx) => {
    const { id } = await createExperimentIn(tx, siteId, personId, {
      name: `${name} (copy)`.slice(0, 120),
      purpose: original.purpose,
      hypothesisId,
    })
    return fillSheetIn(tx, { ...target, experimentId: id }, copied)
  })
}

/** Takes a draft or an ended experiment out of sight; `restoreExperiment` brings it back. */
export async function deleteExperiment(database: Database, target: Target): Promise<void> {
  await database.transaction(async (tx) => {
    const before = await lockSheet(tx, target)
    if (before.state === 'running' || before.state === 'paused')
      throw new HttpProblem(409, 'End this experiment before deleting it.')
    const served = await liveRollouts(tx, target.siteId)
    if (served.some(({ from }) => from.id === target.experimentId))
      throw new HttpProblem(409, 'This experiment is rolled out. Stop its rollout before you delete it.')
    await tx
      .update(experiment)
      .set({ deletedAt: new Date() })
      .where(and(eq(experiment.siteId, target.siteId), eq(experiment.id, target.experimentId)))
    await recordChange(tx, {
      siteId: target.siteId,
      personId: target.personId,
      subject: 'experiment',
      subjectId: target.experimentId,
      action: 'deleted',
    })
  })
}

export async function restoreExperiment(database: Database, target: Target): Promise<ExperimentSheet> {
  return database.transaction(async (tx) => {
    const restored = await tx
      .update(experiment)
      .set({ deletedAt: null })
      .where(and(eq(experiment.id, target.experimentId), eq(experiment.siteId, target.siteId)))
      .returning({ id: experiment.id })
    if (restored.length === 0) throw new HttpProblem(404, 'This experiment does not exist on this site.')
    await recordChange(tx, {
      siteId: target.siteId,
      personId: target.personId,
      subject: 'experiment',
      subjectId: target.experimentId,
      action: 'restored',
    })
    return findSheet(tx, target.siteId, target.experimentId)
  })
}
