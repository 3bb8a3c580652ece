import { and, asc, eq, inArray, notInArray } from 'drizzle-orm'
import type { Edit } from '../../../core/edits/content'
import type { SheetVariant } from '../../../core/sheet/content'
import type { Queries } from '../../database/connect'
import { edit, factor, level, variant } from '../../database/schema'

/** Makes an experiment's variants what was sent: known ones by their ids, others new, those left out gone. */
export async function saveVariants(
  tx: Queries,
  siteId: number,
  experimentId: number,
  inputs: readonly SheetVariant[],
): Promise<void> {
  const factorId = await onlyFactor(tx, siteId, experimentId)
  const known = await tx
    .select()
    .from(variant)
    .where(and(eq(variant.siteId, siteId), eq(variant.experimentId, experimentId)))
  const kept: string[] = []
  for (const [position, { id, name, weight, edits }] of inputs.entries()) {
    const before = known.find((each) => each.id === id)
    const levelId = before?.levels[0] ?? (await addLevel(tx, siteId, factorId))
    await tx
      .insert(variant)
      .values({ siteId, experimentId, id, position, name, weight, levels: [levelId] })
      .onConflictDoUpdate({
        target: [variant.experimentId, variant.id],
        set: { position, name, weight },
        setWhere: eq(variant.siteId, siteId),
      })
    kept.push(id)
    await saveEdits(tx, siteId, levelId, edits)
  }
  const gone = known.filter((each) => !kept.includes(each.id))
  if (gone.length === 0) return
  await tx.delete(variant).where(
    and(
      eq(variant.siteId, siteId),
      eq(variant.experimentId, experimentId),
      inArray(
        variant.id,
        gone.map(({ id }) => id),
      ),
    ),
  )
  await tx.delete(level).where(
    and(
      eq(level.siteId, siteId),
      inArray(
        level.id,
        gone.flatMap(({ levels }) => levels),
      ),
    ),
  )
}

/** The one factor of an A/B test. */
async function onlyFactor(tx: Queries, siteId: number, experimentId: number): Promise<number> {
  const [known] = await tx
    .select({ id: factor.id })
    .from(factor)
    .where(and(eq(factor.siteId, siteId), eq(factor.experimentId, experimentId)))
    .orderBy(asc(factor.position))
  if (known) return known.id
  const [made] = await tx
    .insert(factor)
    .values({ siteId, experimentId, position: 0, name: 'Variant' })
    .returning({ id: factor.id })
  return made!.id
}

async function addLevel(tx: Queries, siteId: number, factorId: number): Promise<number> {
  const [made] = await tx.insert(level).values({ siteId, factorId }).returning({ id: level.id })
  return made!.id
}

/** Makes a level's edits what was sent, in that order. */
async function saveEdits(tx: Queries, siteId: number, levelId: number, edits: readonly Edit[]): Promise<void> {
  const ids = edits.map(({ id }) => id)
  await tx
    .delete(edit)
    .where(
      and(eq(edit.siteId, siteId), eq(edit.levelId, levelId), ids.length > 0 ? notInArray(edit.id, ids) : undefined),
    )
  for (const [position, { id, ...content }] of edits.entries())
    await saveEdit(tx, siteId, levelId, position, { id, ...content })
}

/** Writes one edit, over the one of the same id. */
async function saveEdit(
  tx: Queries,
  siteId: number,
  levelId: number,
  position: number,
  { id, ...content }: Edit,
): Promise<void> {
  await tx
    .insert(edit)
    .values({ siteId, levelId, id, position, content })
    .onConflictDoUpdate({
      target: [edit.levelId, edit.id],
      set: { position, content },
      setWhere: eq(edit.siteId, siteId),
    })
}
