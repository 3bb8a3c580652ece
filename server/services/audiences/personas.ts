import type { PersonaView } from '../../../shared/audiences/replies'
import { randomBytes } from 'node:crypto'
import { and, asc, eq, isNull } from 'drizzle-orm'
import type { PersonaInput } from '../../../shared/audiences/persona'
import type { Database, Queries } from '../../database/connect'
import { testPersona } from '../../database/schema'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'

/** Saved made-up visitors of a site by their names. */
export async function listPersonas(database: Queries, siteId: number): Promise<PersonaView[]> {
  const rows = await database
    .select()
    .from(testPersona)
    .where(and(eq(testPersona.siteId, siteId), isNull(testPersona.deletedAt)))
    .orderBy(asc(testPersona.name), asc(testPersona.id))
  return rows.map(({ id, name, visitorId, facts }) => ({ id, name, visitor: visitorId, facts }))
}

export async function createPersona(
  database: Database,
  siteId: number,
  personId: number | null,
  { name, facts }: PersonaInput,
): Promise<PersonaView> {
  return database.transaction(async (tx) => {
    const visitorId = `persona-${randomBytes(8).toString('hex')}`
    const [made] = await tx
      .insert(testPersona)
      .values({ siteId, name, visitorId, facts, createdBy: personId })
      .returning()
    await note(tx, siteId, personId, made!.id, 'added', name)
    return find(tx, siteId, made!.id)
  })
}

export async function updatePersona(
  database: Database,
  siteId: number,
  personId: number | null,
  id: number,
  { name, facts }: PersonaInput,
): Promise<PersonaView> {
  return database.transaction(async (tx) => {
    await find(tx, siteId, id)
    await tx
      .update(testPersona)
      .set({ name, facts })
      .where(and(eq(testPersona.siteId, siteId), eq(testPersona.id, id)))
    await note(tx, siteId, personId, id, 'changed', name)
    return find(tx, siteId, id)
  })
}

export async function deletePersona(
  database: Database,
  siteId: number,
  personId: number | null,
  id: number,
): Promise<void> {
  await database.transaction(async (tx) => {
    const { name } = await find(tx, siteId, id)
    await tx
      .update(testPersona)
      .set({ deletedAt: new Date() })
      .where(and(eq(testPersona.siteId, siteId), eq(testPersona.id, id)))
    await note(tx, siteId, personId, id, 'deleted', name)
  })
}

async function find(database: Queries, siteId: number, id: number): Promise<PersonaView> {
  const found = (await listPersonas(database, siteId)).find((each) => each.id === id)
  if (!found) throw new HttpProblem(404, 'This persona does not exist on this site. It may have been deleted.')
  return found
}

function note(tx: Queries, siteId: number, personId: number | null, id: number, action: string, name: string) {
  return recordChange(tx, { siteId, personId, subject: 'persona', subjectId: id, action, after: { name } })
}
