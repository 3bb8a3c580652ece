import type { PersonDevice, PersonExport } from '../../../shared/visitors/operations'
import { PERSON } from '../../../core/identity/personId'
import type { Database } from '../../database/connect'
import { HttpProblem } from '../HttpProblem'
import { unpacked } from '../recordings/unpacked'
import * as queries from './queries'

/**
 * Everything that is kept of a visitor, table by table, with what was recorded of them, as JSON in pieces. What is kept of persons that
 * they say they are is not theirs alone: that is handed out by `exportPerson`.
 *
 * @throws HttpProblem 404 for an id of which nothing is kept
 */
export async function exportVisitor(
  database: Database,
  siteId: number,
  visitor: string,
): Promise<AsyncGenerator<string>> {
  const found = await rowsByTable(database, siteId, queries.TABLES, visitor)
  if (Object.values(found).every((rows) => rows.length === 0))
    throw new HttpProblem(404, 'Nothing is kept of a visitor with this id.')
  return writtenOut(database, siteId, visitor, found)
}

/** A chunk of a recording at a time: all that was recorded of a visitor may be larger than the memory. */
async function* writtenOut(
  { $client }: Database,
  siteId: number,
  visitor: string,
  found: Record<string, object[]>,
): AsyncGenerator<string> {
  yield `${JSON.stringify({ id: visitor, ...found }).slice(0, -1)},"recorded":[`
  const { rows } = await $client.query<{ session: string; id: string }>(queries.RECORDED, [siteId, visitor])
  let separator = ''
  for (const { session, id } of rows) {
    const chunk = await $client.query<{ content: Buffer }>(queries.RECORDED_CHUNK, [siteId, visitor, session, id])
    // Whoever erases it meanwhile has taken it away.
    if (!chunk.rows[0]) continue
    const events = await unpacked(chunk.rows[0].content)
    yield `${separator}{"session":${JSON.stringify(session)},"id":"${id}","events":${events.toString('utf8')}}`
    separator = ','
  }
  yield ']}'
}

/**
 * Everything that is kept of a person: what was told with their id, their numbers, and the devices that they were seen
 * on. What those devices did before and after belongs to their own ids.
 *
 * @param person - what stands for the person; see `personId`
 * @throws HttpProblem 404 for a person of whom nothing is kept
 */
export async function exportPerson(database: Database, siteId: number, person: string): Promise<PersonExport> {
  const numbers = await rowsByTable(database, siteId, queries.TABLES, PERSON + person)
  const told = await rowsByTable(database, siteId, queries.PERSON_TABLES, person)
  const all = { ...numbers, ...told }
  if (Object.values(all).every((rows) => rows.length === 0))
    throw new HttpProblem(404, 'Nothing is kept of this person.')
  const { rows } = await database.$client.query<Omit<PersonDevice, 'firstSeenAt' | 'lastSeenAt'> & Seen>(
    queries.VISITORS_OF_PERSON,
    [siteId, person],
  )
  const devices = rows.map((row) => ({
    ...row,
    firstSeenAt: row.firstSeenAt.toISOString(),
    lastSeenAt: row.lastSeenAt.toISOString(),
  }))
  return { person, devices, kept: all }
}

interface Seen {
  firstSeenAt: Date
  lastSeenAt: Date
}

async function rowsByTable(
  { $client }: Database,
  siteId: number,
  tables: readonly Parameters<typeof queries.rowsOf>[0][],
  id: string,
): Promise<Record<string, object[]>> {
  const found: Record<string, object[]> = {}
  for (const table of tables) {
    const { rows } = await $client.query<{ row: object }>(queries.rowsOf(table), [siteId, id])
    found[table[0]] = rows.map(({ row }) => row)
  }
  return found
}
