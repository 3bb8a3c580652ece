import { randomBytes } from 'node:crypto'
import { and, eq } from 'drizzle-orm'
import type {
  ExperimentPatch,
  ExperimentPlan,
  ExperimentSheet,
  ExperimentState,
  MetricInput,
} from '../../../shared/experiment'
import type { Database, Queries } from '../../database/connect'
import { experiment, experimentMetric } from '../../database/schema'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { dropUnusedMetrics, versionFor } from '../metrics/metricVersions'
import { refreshSummaries } from '../results/summaries'
import { compileSiteFile } from '../sites/compileSiteFile'
import { findSheet } from './sheet'
import { saveVariants } from './variants'

export const DEFAULT_PLAN: ExperimentPlan = {
  smallestLift: 0.05,
  baseline: 0.05,
  alpha: 0.05,
  rule: 'sequential',
  lossLimit: 0.005,
  leastWeeks: 2,
  longestWeeks: 6,
  plannedVisitors: 20_000,
}

/** Who does it, and to which experiment. */
export interface Target {
  siteId: number
  experimentId: number
  personId: number | null
}

/** Creates a draft with a control and one variant. */
export async function createExperiment(
  database: Database,
  siteId: number,
  personId: number | null,
  name: string,
): Promise<ExperimentSheet> {
  return database.transaction(async (tx) => {
    const salt = randomBytes(6).toString('base64url')
    const [made] = await tx
      .insert(experiment)
      .values({ siteId, name, salt, pageRules: [], plan: DEFAULT_PLAN, createdBy: personId })
      .returning()
    await saveVariants(tx, siteId, made!.id, [
      { name: 'Control', weight: 1, edits: [] },
      { name: 'Variant B', weight: 1, edits: [] },
    ])
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'experiment',
      subjectId: made!.id,
      action: 'created',
      after: { name },
    })
    return findSheet(tx, siteId, made!.id)
  })
}

const CHANGED_MEANWHILE =
  'Somebody else has changed this sheet in the meantime. Reload it, then make your change again.'
const FROZEN =
  'Variants, page, metrics and plan are frozen since the start, so that the result can be trusted. End this experiment and make a copy to change them.'

/** What may still be changed once visitors have been assigned. */
const CHANGEABLE_AFTER_START = new Set(['name', 'hypothesis', 'share'])

/**
 * Saves what was changed on a sheet. Refused when somebody else saved in between, and for parts that
 * the start has frozen.
 */
export async function updateExperiment(
  database: Database,
  target: Target,
  patch: ExperimentPatch,
): Promise<ExperimentSheet> {
  const { siteId, experimentId, personId } = target
  return database.transaction(async (tx) => {
    const before = await lockSheet(tx, target)
    const { version, ...changes } = patch
    if (version !== before.version) throw new HttpProblem(409, CHANGED_MEANWHILE)
    const changed = Object.keys(changes).filter(
      (key) =>
        JSON.stringify(changes[key as keyof typeof changes]) !== JSON.stringify(before[key as keyof ExperimentSheet]),
    )
    if (changed.length === 0) return before
    checkFrozen(before, changed, changes)

    const { name, hypothesis, pageRules, share, plan } = changes
    await tx
      .update(experiment)
      .set({ ...defined({ name, hypothesis, pageRules, share, plan }), version: before.version + 1 })
      .where(and(eq(experiment.siteId, siteId), eq(experiment.id, experimentId)))
    if (changes.variants) await saveVariants(tx, siteId, experimentId, changes.variants)
    if (changes.metrics) await saveMetrics(tx, before, changes.metrics)

    const after = await findSheet(tx, siteId, experimentId)
    const pick = (sheet: ExperimentSheet) =>
      Object.fromEntries(changed.map((key) => [key, sheet[key as keyof ExperimentSheet]]))
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'experiment',
      subjectId: experimentId,
      action: 'changed',
      before: pick(before),
      after: pick(after),
    })
    if (before.state === 'running') await compileSiteFile(tx, siteId)
    return after
  })
}

function checkFrozen(before: ExperimentSheet, changed: string[], changes: Partial<ExperimentPatch>): void {
  if (before.state === 'draft') return
  const frozen = changed.filter((key) => !CHANGEABLE_AFTER_START.has(key))
  if (frozen.length > 0) {
    throw new HttpProblem(409, FROZEN)
  }
  if (before.state === 'ended' && changed.includes('share'))
    throw new HttpProblem(409, 'This experiment has ended, so its traffic share cannot change.')
  if (changes.share !== undefined && changes.share < before.share) {
    throw new HttpProblem(
      409,
      'The traffic share of a started experiment can only be raised: lowering it would take visitors out of the test. Pause it instead.',
      { share: 'Only a larger share is possible now.' },
    )
  }
}

const TRANSITIONS = {
  start: { from: ['draft'], to: 'running', action: 'started' },
  pause: { from: ['running'], to: 'paused', action: 'paused' },
  resume: { from: ['paused'], to: 'running', action: 'resumed' },
  end: { from: ['running', 'paused'], to: 'ended', action: 'ended' },
} as const satisfies Record<string, { from: readonly ExperimentState[]; to: ExperimentState; action: string }>
export type Transition = keyof typeof TRANSITIONS

/** Starts, pauses, resumes or ends an experiment, and compiles the site file that visitors get from then on. */
export async function moveExperiment(
  database: Database,
  target: Target,
  transition: Transition,
): Promise<ExperimentSheet> {
  const { siteId, experimentId, personId } = target
  const { from, to, action } = TRANSITIONS[transition]
  return database.transaction(async (tx) => {
    const before = await lockSheet(tx, target)
    if (!(from as readonly ExperimentState[]).includes(before.state))
      throw new HttpProblem(409, `This experiment is ${STATE_WORDS[before.state]}, so it cannot be ${action}.`)
    if (transition === 'start' && before.preflight.length > 0) {
      throw new HttpProblem(
        422,
        `Preflight has ${before.preflight.length} open point${before.preflight.length === 1 ? '' : 's'}: ${before.preflight[0]!.text}`,
      )
    }
    await tx
      .update(experiment)
      .set({
        state: to,
        version: before.version + 1,
        ...(transition === 'start' ? { startedAt: new Date() } : {}),
        ...(transition === 'end' ? { endedAt: new Date() } : {}),
      })
      .where(and(eq(experiment.siteId, siteId), eq(experiment.id, experimentId)))
    await compileSiteFile(tx, siteId)
    await refreshSummaries(tx, siteId, [experimentId], new Date())
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'experiment',
      subjectId: experimentId,
      action,
      before: { state: before.state },
      after: { state: to },
    })
    return findSheet(tx, siteId, experimentId)
  })
}

const STATE_WORDS: Record<ExperimentState, string> = {
  draft: 'a draft',
  running: 'running',
  paused: 'paused',
  ended: 'ended',
}

/** A new draft with everything of an experiment but its visitors. */
export async function copyExperiment(database: Database, target: Target): Promise<ExperimentSheet> {
  const original = await findSheet(database, target.siteId, target.experimentId)
  const draft = await createExperiment(
    database,
    target.siteId,
    target.personId,
    `${original.name} (copy)`.slice(0, 120),
  )
  const { hypothesis, pageRules, share, variants, plan, metrics } = original
  return updateExperiment(
    database,
    { ...target, experimentId: draft.id },
    { version: draft.version, hypothesis, pageRules, share, variants, plan, metrics },
  )
}

/** Takes a draft or an ended experiment out of sight; `restoreExperiment` brings it back. */
export async function deleteExperiment(database: Database, target: Target): Promise<void> {
  await database.transaction(async (tx) => {
    const before = await lockSheet(tx, target)
    if (before.state === 'running' || before.state === 'paused')
      throw new HttpProblem(409, 'End this experiment before deleting it.')
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

/** Holds the experiment's row until the transaction ends, so that two changes come one after the other. */
export async function lockSheet(tx: Queries, { siteId, experimentId }: Target): Promise<ExperimentSheet> {
  await tx
    .select({ id: experiment.id })
    .from(experiment)
    .where(and(eq(experiment.siteId, siteId), eq(experiment.id, experimentId)))
    .for('update')
  return findSheet(tx, siteId, experimentId)
}

/** Holds a draft's row; refused when it was changed in between, or is a draft no more. */
export async function lockDraft(tx: Queries, target: Target, version: number): Promise<ExperimentSheet> {
  const sheet = await lockSheet(tx, target)
  if (version !== sheet.version) throw new HttpProblem(409, CHANGED_MEANWHILE)
  if (sheet.state !== 'draft') throw new HttpProblem(409, FROZEN)
  return sheet
}

/** The primary metric comes first; others keep their order. */
async function saveMetrics(tx: Queries, sheet: ExperimentSheet, inputs: readonly MetricInput[]): Promise<void> {
  const { id: experimentId, siteId } = sheet
  const ordered = [...inputs].sort((a, b) => Number(b.role === 'primary') - Number(a.role === 'primary'))
  const versions: number[] = []
  for (const input of ordered) versions.push(await versionFor(tx, siteId, experimentId, input))
  if (new Set(versions).size < versions.length)
    throw new HttpProblem(409, 'This metric is on the sheet already. Choose another.')
  await tx
    .delete(experimentMetric)
    .where(and(eq(experimentMetric.siteId, siteId), eq(experimentMetric.experimentId, experimentId)))
  const rows = ordered.map(({ role, direction, limit }, position) => ({
    siteId,
    experimentId,
    metricVersionId: versions[position]!,
    role,
    direction,
    harmLimit: role === 'guardrail' ? limit : null,
    position,
  }))
  if (rows.length > 0) await tx.insert(experimentMetric).values(rows)
  const kept = new Set(ordered.map(({ id }) => id))
  await dropUnusedMetrics(
    tx,
    siteId,
    sheet.metrics.map(({ id }) => id).filter((id) => !kept.has(id)),
  )
}

function defined<Fields extends Record<string, unknown>>(fields: Fields): Partial<Fields> {
  return Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== undefined)) as Partial<Fields>
}
