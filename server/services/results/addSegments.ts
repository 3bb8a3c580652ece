import type { PoolClient } from 'pg'
import * as queries from './queries'
import type { ExposureRow } from './saveNumbers'
import { segmentsOf, type ExposingView } from './segmentsOf'

/**
 * Adds to exposures what their visitors were at that moment.
 *
 * @param browsers - ids of visitors by the events that their browsers told: of a person, whose device it was
 */
export async function addSegments(
  client: PoolClient,
  siteId: number,
  exposures: readonly ExposureRow[],
  browsers: ReadonlyMap<string, string>,
): Promise<void> {
  if (exposures.length === 0) return
  const browserOf = ({ id, visitor }: ExposureRow) => browsers.get(id) ?? visitor
  const asked = JSON.stringify(exposures.map((each) => ({ visitor: browserOf(each), view: each.view })))
  const { rows } = await client.query<ExposingView>(queries.EXPOSING_VIEWS, [siteId, asked])
  const views = new Map(rows.map((row) => [`${row.visitor} ${row.view}`, row]))
  for (const each of exposures) each.segments = segmentsOf(views.get(`${browserOf(each)} ${each.view}`))
}
