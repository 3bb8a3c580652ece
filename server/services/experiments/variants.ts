import { and, asc, eq, inArray, ne, notInArray } from 'drizzle-orm'
import type { Edit } from '../../../core/edits/content'
import type { SheetContent, SheetFactor, SheetLevel, SheetVariant } from '../../../core/sheet/content'
import type { Queries } from '../../database/connect'
import { edit, factor, level, variant } from '../../database/schema'

/** Key of the one factor of an A/B test, which nobody sees. */
const ONLY_FACTOR = ''

/** Makes an experiment's factors and variants what was sent: known ones by their ids, others new, those left out gone. */
export async function saveVariants(
  tx: Queries,
  siteId: number,
  experimentId: number,
  { factors, variants }: Pick<SheetContent, 'factors' | 'variants'>,
): Promise<void> {
  const split = { id: ONLY_FACTOR, name: 'Variant', levels: variants }
  const levelIds = await saveFactors(tx, siteId, experimentId, factors.length > 0 ? factors : [split])
  await tx.delete(variant).where(
    and(
      eq(variant.siteId, siteId),
      eq(variant.experimentId, experimentId),
      notInArray(
        variant.id,
        variants.map(({ id }) => id),
      ),
    ),
  )
  for (const [position, { id, name, weight, audience = null, levels }] of variants.entries()) {
    const own = { position, name, weight, audience, levels: (levels ?? [id]).map((key) => levelIds.get(key)!) }
    await tx
      .insert(variant)
      .values({ siteId, experimentId, id, ...own })
      .onConflictDoUpdate({
        target: [variant.experimentId, variant.id],
        set: own,
        setWhere: eq(variant.siteId, siteId),
      })
  }
}

/**
 * Writes factors with their levels and edits.
 *
 * @returns the numbers of the levels by their ids
 */
async function saveFactors(
  tx: Queries,
  siteId: number,
  experimentId: number,
  factors: readonly (Omit<SheetFactor, 'levels'> & { levels: readonly SheetLevel[] })[],
): Promise<Map<string, number>> {
  const keys = factors.map(({ id }) => id)
  const isGone = notInArray(factor.key, keys)
  await tx.delete(factor).where(and(eq(factor.siteId, siteId), eq(factor.experimentId, experimentId), isGone))
  const levelIds = new Map<string, number>()
  for (const [position, { id: key, name, levels }] of factors.entries()) {
    const [saved] = await tx
      .insert(factor)
      .values({ siteId, experimentId, key, position, name })
      .onConflictDoUpdate({
        target: [factor.experimentId, factor.key],
        set: { position, name },
        setWhere: eq(factor.siteId, siteId),
      })
      .returning({ id: factor.id })
    for (const [own, id] of await saveLevels(tx, siteId, saved!.id, levels)) levelIds.set(own, id)
  }
  return levelIds
}

async function saveLevels(
  tx: Queries,
  siteId: number,
  factorId: number,
  levels: readonly SheetLevel[],
): Promise<Map<string, number>> {
  const keys = levels.map(({ id }) => id)
  const isGone = notInArray(level.key, keys)
  await tx.delete(level).where(and(eq(level.siteId, siteId), eq(level.factorId, factorId), isGone))
  const ids = new Map<string, number>()
  for (const [position, { id: key, name, edits }] of levels.entries()) {
    const [saved] = await tx
      .insert(level)
      .values({ siteId, factorId, key, position, name })
      .onConflictDoUpdate({
        target: [level.factorId, level.key],
        set: { position, name },
        setWhere: eq(level.siteId, siteId),
      })
      .returning({ id: level.id })
    await saveEdits(tx, siteId, saved!.id, edits)
    ids.set(key, saved!.id)
  }
  return ids
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

/** Variants by experiment, each with the edits of its levels, in the order of the factors. */
export async function variantsOf(
  database: Queries,
  siteId: number,
  experimentIds: readonly number[],
): Promise<Map<number, SheetVariant[]>> {
  const rows = await database
    .select()
    .from(variant)
    .where(and(eq(variant.siteId, siteId), inArray(variant.experimentId, [...experimentIds])))
    .orderBy(asc(variant.position))
  const editsOf = await editsOfLevels(
    database,
    siteId,
    rows.flatMap((row) => row.levels),
  )
  const found = new Map<number, SheetVariant[]>()
  for (const { id, experimentId, name, weight, audience, levels } of rows) {
    const edits = levels.flatMap((own) => editsOf.get(own) ?? [])
    const view = { id, name, weight, edits, ...(audience ? { audience } : {}) }
    found.set(experimentId, [...(found.get(experimentId) ?? []), view])
  }
  return found
}

/** Factors of multivariate tests by experiment. */
export async function factorsOf(
  database: Queries,
  siteId: number,
  experimentIds: readonly number[],
): Promise<Map<number, SheetFactor[]>> {
  const rows = await database
    .select({ own: factor, level })
    .from(factor)
    .innerJoin(level, eq(level.factorId, factor.id))
    .where(
      and(eq(factor.siteId, siteId), inArray(factor.experimentId, [...experimentIds]), ne(factor.key, ONLY_FACTOR)),
    )
    .orderBy(asc(factor.experimentId), asc(factor.position), asc(level.position))
  const editsOf = await editsOfLevels(
    database,
    siteId,
    rows.map((row) => row.level.id),
  )
  const found = new Map<number, SheetFactor[]>()
  for (const { own, level: row } of rows) {
    const factors = found.get(own.experimentId) ?? []
    found.set(own.experimentId, factors)
    if (factors.at(-1)?.id !== own.key) factors.push({ id: own.key, name: own.name, levels: [] })
    factors.at(-1)!.levels.push({ id: row.key, name: row.name, edits: editsOf.get(row.id) ?? [] })
  }
  return found
}

async function editsOfLevels(
  database: Queries,
  siteId: number,
  levelIds: readonly number[],
): Promise<Map<number, Edit[]>> {
  const found = new Map<number, Edit[]>()
  if (levelIds.length === 0) return found
  const rows = await database
    .select()
    .from(edit)
    .where(and(eq(edit.siteId, siteId), inArray(edit.levelId, [...levelIds])))
    .orderBy(asc(edit.position))
  for (const { levelId, id, content } of rows) found.set(levelId, [...(found.get(levelId) ?? []), { ...content, id }])
  return found
}
