import { sql } from 'drizzle-orm'
import { WEBHOOK_KINDS } from '../../core/notifications/occurrence'
import { DAY } from '../../core/time/units'
import type { Database } from '../../server/database/connect'
import { createWebhook } from '../../server/services/webhooks/webhooks'

/** Where the demo's webhook leads on the stand-in receiver. */
export const DEMO_WEBHOOK_PATH = '/kittiwake'
/** The receiver's usual place; the start moves the webhook to where it really is. */
const RECEIVER = 'http://127.0.0.1:4203'

/** A program that is told of what happens, and a team that has seen what happened before yesterday. */
export async function addNotifications(database: Database, siteId: number, now: Date): Promise<void> {
  const webhook = { address: RECEIVER + DEMO_WEBHOOK_PATH, kinds: [...WEBHOOK_KINDS] }
  await createWebhook(database, { siteId, personId: null }, webhook, { origins: [RECEIVER], privateHosts: [] })
  const yesterday = new Date(now.getTime() - DAY).toISOString()
  await database.execute(sql`
    UPDATE notification n SET seen_at = o.happened_at + interval '8 hours' FROM occurrence o
    WHERE n.site_id = ${siteId} AND o.site_id = n.site_id AND o.id = n.occurrence_id AND o.happened_at < ${yesterday}`)
}
