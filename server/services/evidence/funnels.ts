import type { SavedFunnel } from '../../../shared/evidence/replies'
import { and, asc, eq } from 'drizzle-orm'
import type { InferType } from 'yup'
import type { savedFunnelSchema } from '../../../shared/evidence/funnel'
import type { Database, Queries } from '../../database/connect'
import { funnel, person } from '../../database/schema'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'

type Input = InferType<typeof savedFunnelSchema>

const GONE = 'This funnel does not exist any more.'

function rowsOf(database: Queries, siteId: number, funnelId?: number) {
  return database
    .select({ id: funnel.id, name: funnel.name, plan: funnel.plan, person: person.name, createdAt: funnel.createdAt })
    .from(funnel)
    .leftJoin(person, eq(person.id, funnel.createdBy))
    .where(and(eq(funnel.siteId, siteId), funnelId === undefined ? undefined : eq(funnel.id, funnelId)))
    .orderBy(asc(funnel.name), asc(funnel.id))
}

/** A site's funnels by name. */
export async function listFunnels(database: Queries, siteId: number): Promise<SavedFunnel[]> {
  const rows = await rowsOf(database, siteId)
  return rows.map((row) => ({ ...row, createdAt: row.createdAt.toISOString() }))
}

async function findFunnel(database: Queries, siteId: number, funnelId: number): Promise<SavedFunnel> {
  const [row] = await rowsOf(database, siteId, funnelId)
  if (!row) throw new HttpProblem(404, GONE)
  return { ...row, createdAt: row.createdAt.toISOString() }
}

export async function createFunnel(
  database: Database,
  siteId: number,
  personId: number | null,
  { name, plan }: Input,
): Promise<SavedFunnel> {
  const id = await database.transaction(async (tx) => {
    const [made] = await tx.insert(funnel).values({ siteId, name, plan, createdBy: personId }).returning()
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'funnel',
      subjectId: made!.id,
      action: 'added',
      after: { name, plan },
    })
    return made!.id
  })
  return findFunnel(database, siteId, id)
}

export async function updateFunnel(
  database: Database,
  target: { siteId: number; funnelId: number; personId: number | null },
  { name, plan }: Input,
): Promise<SavedFunnel> {
  const { siteId, funnelId, personId } = target
  await database.transaction(async (tx) => {
    const before = await findFunnel(tx, siteId, funnelId)
    await tx
      .update(funnel)
      .set({ name, plan })
      .where(and(eq(funnel.siteId, siteId), eq(funnel.id, funnelId)))
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'funnel',
      subjectId: funnelId,
      action: 'changed',
      before: { name: before.name, plan: before.plan },
      after: { name, plan },
    })
  })
  return findFunnel(database, siteId, funnelId)
}

export async function deleteFunnel(
  database: Database,
  { siteId, funnelId, personId }: { siteId: number; funnelId: number; personId: number | null },
): Promise<void> {
  await database.transaction(async (tx) => {
    const [gone] = await tx
      .delete(funnel)
      .where(and(eq(funnel.siteId, siteId), eq(funnel.id, funnelId)))
      .returning()
    if (!gone) throw new HttpProblem(404, GONE)
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'funnel',
      subjectId: funnelId,
      action: 'deleted',
      before: { name: gone.name, plan: gone.plan },
    })
  })
}
