import { sql } from 'drizzle-orm'
import { letterTime, type LetterTimes } from '../../../core/notifications/letterTime'
import { wayOf, type OccurrenceKind, type WayChoice } from '../../../core/notifications/occurrence'
import type { Role } from '../../../shared/accounts/account'
import type { Queries } from '../../database/connect'
import { notification, occurrence } from '../../database/schema'
import { announce } from '../../news/announce'
import { addDeliveries } from '../webhooks/deliveries'
import { TIMES } from './letterTimes'

/** Something that has happened, and that others are to know. */
export interface Happened {
  siteId: number
  experimentId: number | null
  kind: OccurrenceKind
  /** What happened, so that it is told once however often it is found; left out of what may happen again. */
  cause?: string
  /** Of whatever it happened to. */
  title: string
  text: string
  /** Below the site. */
  path: string
  at: Date
  /** Who did it, and so knows. */
  by?: number | null
  /** Only these, by name. */
  to?: readonly number[]
}

/**
 * Tells the members of a site, each in the way that they chose, and its webhooks. It is part of the transaction in which
 * the thing happens: both are there, or neither. `tests/integration/notifications.test.ts` holds it.
 */
export async function tell(tx: Queries, happened: Happened): Promise<void> {
  const { siteId, experimentId, kind, cause, title, text, path, at, by = null } = happened
  const [told] = await tx
    .insert(occurrence)
    .values({ siteId, experimentId, kind, cause, title, text, path, happenedAt: at, byPerson: by })
    .onConflictDoNothing()
    .returning({ id: occurrence.id })
  if (!told) return
  const rows = (await membersToTell(tx, happened)).flatMap(({ personId, isOwn, role, choices, times }) => {
    const way = wayOf({ kind, experimentId, isOwn, isOwner: role === 'owner' }, choices)
    if (way === 'none') return []
    const due = letterTime(way, at.getTime(), times)
    return [{ siteId, occurrenceId: told.id, personId, way, dueAt: due === null ? null : new Date(due) }]
  })
  if (rows.length > 0) await tx.insert(notification).values(rows)
  await addDeliveries(tx, siteId, told.id)
  await announce(tx, siteId, { kind: 'notifications' })
}

interface MemberToTell {
  personId: number
  role: Role
  isOwn: boolean
  choices: WayChoice[]
  times: LetterTimes
}

/** Members of the site, but for whoever did it; of what a webhook does the owners alone. */
async function membersToTell(
  tx: Queries,
  { siteId, experimentId, kind, by = null, to }: Happened,
): Promise<MemberToTell[]> {
  const { rows } = await tx.execute<Omit<MemberToTell, 'times'> & LetterTimes & Record<string, unknown>>(sql`
    SELECT m.person_id AS "personId", m.role, ${TIMES},
      ${to !== undefined} OR EXISTS (
        SELECT FROM change_log c WHERE c.site_id = ${siteId} AND c.subject = 'experiment'
          AND c.subject_id = ${experimentId} AND c.action IN ('started', 'scheduled') AND c.person_id = m.person_id
      ) AS "isOwn",
      coalesce((
        SELECT json_agg(json_build_object('experimentId', n.experiment_id, 'kind', n.kind, 'way', n.way))
        FROM notification_choice n
        WHERE (n.site_id IS NULL OR n.site_id = ${siteId}) AND n.person_id = m.person_id AND n.kind = ${kind}
          AND (n.experiment_id IS NULL OR n.experiment_id = ${experimentId})
      ), '[]') AS choices
    FROM site s
    JOIN membership m ON m.organisation_id = s.organisation_id
    LEFT JOIN letter_times t ON t.person_id = m.person_id
    WHERE s.id = ${siteId} AND m.person_id IS DISTINCT FROM ${by}
      AND (${to === undefined} OR m.person_id = ANY(${sql.param([...(to ?? [])])}::int[]))
      AND (${kind !== 'webhook'} OR m.role = 'owner')`)
  return rows.map(({ personId, role, isOwn, choices, timeZone, quietFrom, quietUntil, morningAt }) => ({
    personId,
    role,
    isOwn,
    choices,
    times: { timeZone, quietFrom, quietUntil, morningAt },
  }))
}
