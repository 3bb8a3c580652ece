import { gunzip } from 'node:zlib'
import { promisify } from 'node:util'
import type { Database } from '../../database/connect'
import { HttpProblem } from '../HttpProblem'
import * as plans from './plans'

const unpack = promisify(gunzip)

/**
 * Everything that is kept of a visitor, table by table, with what was recorded of them.
 *
 * @throws HttpProblem 404 for an id of which nothing is kept
 */
export async function exportVisitor(
  { $client }: Database,
  siteId: number,
  visitor: string,
): Promise<Record<string, unknown>> {
  const found: Record<string, unknown> = { id: visitor }
  let count = 0
  const persons = await $client.query<{ id: string }>(plans.PERSONS, [siteId, visitor])
  for (const table of plans.TABLES) {
    const own: object[] = []
    for (const unit of [visitor, ...persons.rows.map(({ id }) => id)])
      own.push(
        ...(await $client.query<{ row: object }>(plans.rowsOf(table), [siteId, unit])).rows.map(({ row }) => row),
      )
    found[table[0]] = own
    count += own.length
  }
  if (count === 0) throw new HttpProblem(404, 'Nothing is kept of a visitor with this id.')
  const chunks = await $client.query<{ session: string; id: string; content: Buffer }>(plans.RECORDED, [
    siteId,
    visitor,
  ])
  found.recorded = await Promise.all(
    chunks.rows.map(async ({ session, id, content }) => ({
      ...{ session, id },
      events: JSON.parse((await unpack(content)).toString('utf8')) as unknown,
    })),
  )
  return found
}
