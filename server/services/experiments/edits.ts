import { and, asc, eq, sql } from 'drizzle-orm'
import type { Edit } from '../../../core/edits/edit'
import { MOST_EDITS, type ExperimentSheet } from '../../../shared/experiment'
import type { Database, Queries } from '../../database/connect'
import { edit, experiment, variant } from '../../database/schema'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { lockDraft, type Target } from './experiments'
import { findSheet } from './sheet'
import { saveEdit } from './variants'

interface EditTarget extends Target {
  variantId: number
}

/** Adds an edit to a variant of a draft, at its end, or changes the one of the same id in its place. */
export function putEdit(
  database: Database,
  target: EditTarget,
  version: number,
  incoming: Edit,
): Promise<ExperimentSheet> {
  return changeEdits(database, target, version, async (tx, levelId, edits) => {
    const before = edits.find(({ id }) => id === incoming.id)
    if (!before && edits.length >= MOST_EDITS)
      throw new HttpProblem(422, `A variant holds at most ${MOST_EDITS} edits.`)
    await saveEdit(tx, target.siteId, levelId, before?.position ?? (edits.at(-1)?.position ?? -1) + 1, incoming)
    return { before: before?.content ?? null, after: incoming }
  })
}

/** Takes an edit out of a variant of a draft. */
export function removeEdit(
  database: Database,
  target: EditTarget,
  version: number,
  editId: string,
): Promise<ExperimentSheet> {
  return changeEdits(database, target, version, async (tx, levelId, edits) => {
    const before = edits.find(({ id }) => id === editId)
    if (!before) throw new HttpProblem(404, 'This edit is not there any more.')
    await tx.delete(edit).where(and(eq(edit.siteId, target.siteId), eq(edit.levelId, levelId), eq(edit.id, editId)))
    return { before: before.content, after: null }
  })
}

type EditRow = typeof edit.$inferSelect

async function changeEdits(
  database: Database,
  { variantId, ...target }: EditTarget,
  version: number,
  change: (tx: Queries, levelId: number, edits: EditRow[]) => Promise<{ before: object | null; after: object | null }>,
): Promise<ExperimentSheet> {
  const { siteId, experimentId, personId } = target
  return database.transaction(async (tx) => {
    await lockDraft(tx, target, version)
    const [found] = await tx
      .select({ levels: variant.levels, name: variant.name })
      .from(variant)
      .where(and(eq(variant.siteId, siteId), eq(variant.experimentId, experimentId), eq(variant.id, variantId)))
    const levelId = found?.levels[0]
    if (!found || levelId === undefined) throw new HttpProblem(404, 'This variant is not there any more.')
    const edits = await tx
      .select()
      .from(edit)
      .where(and(eq(edit.siteId, siteId), eq(edit.levelId, levelId)))
      .orderBy(asc(edit.position))
    const { before, after } = await change(tx, levelId, edits)
    await tx
      .update(experiment)
      .set({ version: sql`${experiment.version} + 1` })
      .where(and(eq(experiment.siteId, siteId), eq(experiment.id, experimentId)))
    await recordChange(tx, {
      ...{ siteId, personId, subject: 'experiment', subjectId: experimentId, action: 'changed' },
      before: { variant: found.name, edit: before },
      after: { variant: found.name, edit: after },
    })
    return findSheet(tx, siteId, experimentId)
  })
}
