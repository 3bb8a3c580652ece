import type { PoolClient } from 'pg'
import { firstExposure, type ExposureSighting } from '../../../core/measurement/firstExposure'
import { addSegments } from './addSegments'
import { groupBy } from '../groupBy'
import { readFoldContext } from './foldContext'
import type { KnownVisitor } from './exclusion'
import { measureAnew } from './measureVisitors'
import * as queries from './queries'
import { dropExposures, readExposures, replaceExposures, type ExposureRow } from './saveNumbers'

/**
 * Measures a person once more from what is left of them, after one of their devices was erased. Numbers from before the
 * events that are still there stay: what the other devices did can no longer be told from them.
 *
 * @param unit - id of the person among visitors
 * @returns experiments whose numbers have changed
 */
export async function measurePersonAnew(client: PoolClient, siteId: number, unit: string): Promise<number[]> {
  const context = await readFoldContext(client, siteId)
  const experiments = [...context.ofPersons]
  const known = await readExposures(client, siteId, [unit], experiments)
  const standing = [...(known.get(unit)?.values() ?? [])].filter(context.hasEvents)
  await client.query(queries.COUNT_PERSON, [siteId, unit])
  if (standing.length === 0) return []
  const { rows } = await client.query<ExposureSighting & { experiment: number; browser: string }>(
    queries.SIGHTINGS_OF_PERSON,
    [siteId, unit, experiments],
  )
  const [person] = (await client.query<KnownVisitor>(queries.VISITORS_BY_ID, [siteId, [unit]])).rows
  const sightings = groupBy(rows, ({ experiment }) => experiment)
  const left = standing.flatMap(({ experiment }): ExposureRow[] => {
    const first = firstExposure(null, sightings.get(experiment) ?? [])
    if (!first) return []
    return [
      {
        ...first,
        visitor: unit,
        experiment,
        day: context.dayOf(first.at),
        segments: {},
        leftOut: null,
      },
    ]
  })
  await addSegments(client, siteId, left, new Map(rows.map(({ id, browser }) => [id, browser])))
  if (person) for (const each of left) each.leftOut = context.leftOut(each.experiment, person, each)
  const kept = new Set(left.map(({ experiment }) => experiment))
  await dropExposures(
    client,
    siteId,
    standing.filter(({ experiment }) => !kept.has(experiment)),
  )
  await replaceExposures(client, siteId, left, known)
  const { rows: cursor } = await client.query<{ seq: string }>(queries.READ_CURSOR, [siteId])
  await measureAnew(client, context, left, Number(cursor[0]?.seq ?? 0), new Map())
  return standing.map(({ experiment }) => experiment)
}
