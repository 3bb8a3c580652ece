import { and, desc, eq, sql } from 'drizzle-orm'
import { pageOf, type Paged, type PageQuery } from '../../../shared/api/paging'
import type { DeliveryView } from '../../../shared/webhooks/replies'
import type { Database, Queries } from '../../database/connect'
import { olderThan } from '../../database/olderThan'
import { webhook, webhookDelivery } from '../../database/schema'
import { HttpProblem } from '../HttpProblem'

/** A webhook of a site. */
export interface WebhookPlace {
  siteId: number
  webhookId: number
}

/** Notes an occurrence for each webhook of its site that is on and wants its kind. */
export async function addDeliveries(tx: Queries, siteId: number, occurrenceId: number): Promise<void> {
  await tx.execute(sql`
    INSERT INTO webhook_delivery (site_id, webhook_id, kind, body, created_at, next_try_at)
    SELECT ${siteId}, w.id, o.kind, json_build_object(
        'id', o.id,
        'kind', o.kind,
        'at', to_char(o.happened_at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"'),
        'site', json_build_object('id', s.id, 'name', s.name),
        'experiment', CASE WHEN e.id IS NOT NULL THEN json_build_object('id', e.id, 'name', e.name) END,
        'text', o.text,
        'path', '/sites/' || s.id || o.path
      )::text, now(), now()
    FROM webhook w
    JOIN occurrence o ON o.site_id = ${siteId} AND o.id = ${occurrenceId} AND o.kind = ANY(w.kinds)
    JOIN site s ON s.id = ${siteId}
    LEFT JOIN experiment e ON e.site_id = ${siteId} AND e.id = o.experiment_id
    WHERE w.site_id = ${siteId} AND w.paused_at IS NULL AND w.gave_up_at IS NULL`)
}

/** A page of what was sent to a webhook, the latest first. */
export async function listDeliveries(
  database: Queries,
  { siteId, webhookId }: WebhookPlace,
  { after, limit }: PageQuery,
): Promise<Paged<DeliveryView>> {
  await findWebhook(database, { siteId, webhookId })
  const rows = await database
    .select()
    .from(webhookDelivery)
    .where(
      and(
        eq(webhookDelivery.siteId, siteId),
        eq(webhookDelivery.webhookId, webhookId),
        olderThan(webhookDelivery.id, after),
      ),
    )
    .orderBy(desc(webhookDelivery.id))
    .limit(limit + 1)
  return pageOf(
    rows.map((row) => ({
      id: row.id,
      kind: row.kind,
      body: row.body,
      createdAt: row.createdAt.toISOString(),
      attempts: row.attempts,
      state: row.deliveredAt ? ('delivered' as const) : row.nextTryAt ? ('waits' as const) : ('given up' as const),
      lastTriedAt: row.lastTriedAt?.toISOString() ?? null,
      nextTryAt: row.nextTryAt?.toISOString() ?? null,
      status: row.status,
      answer: row.answer,
    })),
    limit,
  )
}

/** Sends the same once more, as a delivery of its own. */
export async function replayDelivery(
  database: Database,
  { siteId, webhookId }: WebhookPlace,
  deliveryId: number,
  now: Date,
): Promise<void> {
  const own = and(
    eq(webhookDelivery.siteId, siteId),
    eq(webhookDelivery.webhookId, webhookId),
    eq(webhookDelivery.id, deliveryId),
  )
  const [found] = await database.select().from(webhookDelivery).where(own)
  if (!found) throw new HttpProblem(404, 'There is no such delivery any more.')
  const { kind, body } = found
  await database.insert(webhookDelivery).values({ siteId, webhookId, kind, body, createdAt: now, nextTryAt: now })
}

export async function findWebhook(
  database: Queries,
  { siteId, webhookId }: WebhookPlace,
): Promise<typeof webhook.$inferSelect> {
  const [found] = await database
    .select()
    .from(webhook)
    .where(and(eq(webhook.siteId, siteId), eq(webhook.id, webhookId)))
  if (!found) throw new HttpProblem(404, 'There is no such webhook.')
  return found
}
