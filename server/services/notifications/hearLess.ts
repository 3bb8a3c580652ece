import { sql } from 'drizzle-orm'
import { quieterWay, WAYS, type OccurrenceKind, type Way } from '../../../core/notifications/occurrence'
import type { HearLessInput } from '../../../shared/notifications/notification'
import type { HearLessView } from '../../../shared/notifications/replies'
import type { Database, Queries } from '../../database/connect'
import { HttpProblem } from '../HttpProblem'
import { saveWays } from './choices'
import { letterOfKey } from './lessKey'

const UNKNOWN = 'This link is not one of ours, or its letter is too old. Choose what you are told under your account.'

/**
 * Makes a person hear less of what a letter told: of each kind, for the experiment that it was about. Once more, it
 * changes nothing.
 *
 * @param ways - chosen in place of one step less; others than the letter told of are passed over
 * @returns how they are told of it from now on
 * @throws HttpProblem 404 for a key of no letter
 */
export async function hearLess(
  database: Database,
  { key, ways }: HearLessInput,
  secret: string,
): Promise<HearLessView> {
  const letterId = letterOfKey(key, secret)
  if (letterId === null) throw new HttpProblem(404, UNKNOWN)
  return database.transaction(async (tx) => {
    const told = await toldBy(tx, letterId)
    if (told.length === 0) throw new HttpProblem(404, UNKNOWN)
    const result: HearLessView = []
    for (const { personId, siteId, experimentId, kind, title, way, chosen } of told) {
      const wanted = ways?.find((each) => each.kind === kind && each.experimentId === experimentId)?.way
      const quieter = quieterWay(way)
      const next = wanted ?? (ways || (chosen && isQuieter(chosen, quieter)) ? (chosen ?? way) : quieter)
      const of = experimentId === null ? null : { siteId, experimentId }
      await saveWays(tx, personId, of, [{ kind, way: next }])
      result.push({ kind, experimentId, title, way: next })
    }
    return result
  })
}

const isQuieter = (way: Way, than: Way) => WAYS.indexOf(way) > WAYS.indexOf(than)

interface Told {
  personId: number
  siteId: number
  experimentId: number | null
  kind: OccurrenceKind
  title: string
  /** How the person was told by the letter. */
  way: Way
  /** What they have chosen by now. */
  chosen: Way | null
}

async function toldBy(tx: Queries, letterId: number): Promise<Told[]> {
  const { rows } = await tx.execute<Told & Record<string, unknown>>(sql`
    SELECT DISTINCT ON (o.kind, o.experiment_id) n.person_id AS "personId", n.site_id AS "siteId",
      o.experiment_id AS "experimentId", o.kind, o.title, n.way, c.way AS chosen
    FROM notification n
    JOIN occurrence o ON o.site_id = n.site_id AND o.id = n.occurrence_id
    LEFT JOIN notification_choice c ON (c.site_id = n.site_id OR c.site_id IS NULL) AND c.person_id = n.person_id
      AND c.kind = o.kind AND c.experiment_id IS NOT DISTINCT FROM o.experiment_id
    WHERE n.letter_id = ${letterId}
    ORDER BY o.kind, o.experiment_id, n.id DESC`)
  return rows
}
