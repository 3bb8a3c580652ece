import { and, desc, eq, isNull, lte } from 'drizzle-orm'
import { pageOf, type Paged } from '../../../shared/api/paging'
import type { NotificationsQuery } from '../../../shared/notifications/notification'
import type { NotificationView } from '../../../shared/notifications/replies'
import type { Database, Queries } from '../../database/connect'
import { announce } from '../../news/announce'
import { olderThan } from '../../database/olderThan'
import { notification, occurrence, person } from '../../database/schema'

/** Whose notifications, of which site; programs have none. */
export interface Reader {
  siteId: number
  personId: number | null
}

/** A page of what a person is told of a site, the latest first. */
export async function listNotifications(
  database: Queries,
  { siteId, personId }: Reader,
  { after, limit, unseen }: NotificationsQuery,
): Promise<Paged<NotificationView>> {
  if (personId === null) return { items: [], next: null }
  const rows = await database
    .select({
      id: notification.id,
      kind: occurrence.kind,
      title: occurrence.title,
      text: occurrence.text,
      path: occurrence.path,
      at: occurrence.happenedAt,
      by: person.name,
      seenAt: notification.seenAt,
    })
    .from(notification)
    .innerJoin(occurrence, and(eq(occurrence.siteId, siteId), eq(occurrence.id, notification.occurrenceId)))
    .leftJoin(person, eq(person.id, occurrence.byPerson))
    .where(
      and(
        of({ siteId, personId }),
        olderThan(notification.id, after),
        unseen ? isNull(notification.seenAt) : undefined,
      ),
    )
    .orderBy(desc(notification.id))
    .limit(limit + 1)
  return pageOf(
    rows.map(({ at, seenAt, ...row }) => ({ ...row, at: at.toISOString(), isSeen: seenAt !== null })),
    limit,
  )
}

/** How many notifications of a site a person has not seen. */
export async function countUnseen(database: Database, { siteId, personId }: Reader): Promise<number> {
  if (personId === null) return 0
  return database.$count(notification, and(of({ siteId, personId }), isNull(notification.seenAt)))
}

/** A person has seen everything up to a notification; what has come since is still new. */
export async function markSeen(
  database: Queries,
  { siteId, personId }: Reader,
  upTo: number,
  now: Date,
): Promise<void> {
  if (personId === null) return
  await database
    .update(notification)
    .set({ seenAt: now })
    .where(and(of({ siteId, personId }), lte(notification.id, upTo), isNull(notification.seenAt)))
  // Their other windows count what is new as well.
  await announce(database, siteId, { kind: 'seen' })
}

function of({ siteId, personId }: { siteId: number; personId: number }) {
  return and(eq(notification.siteId, siteId), eq(notification.personId, personId))
}
