import type { PoolClient } from 'pg'
import { PERSON } from '../../../core/identity/personId'
import type { Database } from '../../database/connect'
import { inTransaction } from '../../database/inTransaction'
import { HttpProblem } from '../HttpProblem'
import { measurePersonAnew } from '../results/measurePerson'
import { refreshDueSummaries } from '../results/foldAndSummarize'
import { NOTE_SUMMARIES_DUE, TAKE_FOLD_LOCK } from '../results/queries'
import { renewNumbers } from '../results/renewNumbers'
import { forgetInFindings } from './forgetInFindings'
import * as queries from './queries'

/**
 * Erases everything that is kept of a visitor. They are taken out of the sums of every experiment first, which are then
 * as if they had never come. Persons that they were known as go with them, unless they were seen on other devices: then
 * their numbers are measured from what those did.
 *
 * @returns how many rows were erased
 * @throws HttpProblem 404 for an id of which nothing is kept
 */
export async function eraseVisitor(
  database: Database,
  siteId: number,
  personId: number | null,
  visitor: string,
): Promise<number> {
  return erase(database, siteId, personId, async (client, experiments) => {
    const erased = await eraseOne(client, siteId, visitor, experiments)
    if (erased === 0) throw new HttpProblem(404, 'Nothing is kept of a visitor with this id.')
    return erased
  })
}

/**
 * Erases everything that is kept of a person, and of the devices that are named: those may be others', too.
 *
 * @param person - what stands for the person; see `personId`
 * @param visitors - devices that go with all that was done on them
 * @returns how many rows were erased
 * @throws HttpProblem 404 for a person of whom nothing is kept, 422 for a device on which they were not seen, or
 *   where they have devices and none is named
 */
export async function erasePerson(
  database: Database,
  siteId: number,
  personId: number | null,
  person: string,
  visitors: readonly string[],
): Promise<number> {
  return erase(database, siteId, personId, async (client, experiments) => {
    const seen = await client.query<{ visitor: string }>(queries.VISITORS_OF_PERSON, [siteId, person])
    const devices = new Set(seen.rows.map((row) => row.visitor))
    const chosen = new Set(visitors)
    if (![...chosen].every((visitor) => devices.has(visitor)))
      throw new HttpProblem(422, 'This person was not seen on one of these devices. Look the person up again.')
    if (chosen.size === 0 && devices.size > 0) throw new HttpProblem(422, 'Choose the devices to erase.')
    let erased = 0
    for (const visitor of chosen) erased += await eraseOne(client, siteId, visitor, experiments)
    if (chosen.size < devices.size) return erased
    erased += await eraseUnit(client, siteId, PERSON + person, experiments)
    if (erased === 0) throw new HttpProblem(404, 'Nothing is kept of this person.')
    return erased
  })
}

async function erase(
  database: Database,
  siteId: number,
  personId: number | null,
  work: (client: PoolClient, experiments: Set<number>) => Promise<number>,
): Promise<number> {
  const rows = await inTransaction(database.$client, async (client) => {
    // Nothing is folded meanwhile that would bring some of it back.
    await client.query(TAKE_FOLD_LOCK, [siteId])
    const experiments = new Set<number>()
    const erased = await work(client, experiments)
    await client.query(queries.NOTE_ERASURE, [siteId, personId])
    await client.query(NOTE_SUMMARIES_DUE, [siteId, [...experiments]])
    return erased
  })
  await refreshDueSummaries(database, new Date())
  return rows
}

async function eraseOne(
  client: PoolClient,
  siteId: number,
  visitor: string,
  experiments: Set<number>,
): Promise<number> {
  const persons = await client.query<{ person: string }>(queries.PERSONS_OF_VISITOR, [siteId, visitor])
  await forgetInFindings(client, siteId, visitor)
  await client.query(queries.FORGET_IN_LOG, [siteId, visitor])
  await client.query(queries.FORGET_IN_EXCLUSIONS, [siteId, visitor])
  let erased = await eraseUnit(client, siteId, visitor, experiments)
  for (const { person } of persons.rows) {
    const others = await client.query(queries.VISITORS_OF_PERSON, [siteId, person])
    if (others.rowCount === 0) erased += await eraseUnit(client, siteId, PERSON + person, experiments)
    else for (const each of await measurePersonAnew(client, siteId, PERSON + person)) experiments.add(each)
  }
  return erased
}

/** Takes one who counts, a visitor or a person, out of the sums, and deletes all rows with their id. */
async function eraseUnit(client: PoolClient, siteId: number, unit: string, experiments: Set<number>): Promise<number> {
  await client.query(queries.LEAVE_OUT, [siteId, unit])
  const exposed = await client.query<{ id: number }>(queries.EXPERIMENTS, [siteId, unit])
  for (const { id } of exposed.rows) await renewNumbers(client, siteId, id, [unit])
  exposed.rows.forEach(({ id }) => experiments.add(id))
  let erased = 0
  for (const table of queries.TABLES)
    erased += (await client.query(queries.deleteFrom(table), [siteId, unit])).rowCount ?? 0
  return erased
}
