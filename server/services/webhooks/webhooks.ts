import { randomBytes } from 'node:crypto'
import { and, asc, eq, sql } from 'drizzle-orm'
import type { NewWebhookView, WebhookView } from '../../../shared/webhooks/replies'
import type { WebhookChange, WebhookInput } from '../../../shared/webhooks/webhook'
import type { Database, Queries } from '../../database/connect'
import { person, webhook, webhookDelivery } from '../../database/schema'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { refuseUnreachable } from '../sites/fetchGuarded'
import type { Reach } from '../sites/reach'
import { findWebhook, type WebhookPlace } from './deliveries'

/** Of one site; more would only hide each other. */
const MOST_WEBHOOKS = 20

interface By {
  siteId: number
  personId: number | null
}

/** The webhooks of a site, the oldest first. */
export async function listWebhooks(database: Queries, siteId: number): Promise<WebhookView[]> {
  const rows = await database
    .select({
      own: webhook,
      by: person.name,
      lastDeliveredAt: sql<Date | null>`(
        SELECT max(d.delivered_at) FROM webhook_delivery d
        WHERE d.site_id = ${siteId} AND d.webhook_id = ${webhook.id})`.mapWith(webhookDelivery.deliveredAt),
    })
    .from(webhook)
    .leftJoin(person, eq(person.id, webhook.createdBy))
    .where(eq(webhook.siteId, siteId))
    .orderBy(asc(webhook.id))
  return rows.map(({ own, by, lastDeliveredAt }) => ({
    id: own.id,
    address: own.address,
    kinds: own.kinds,
    state: own.gaveUpAt ? ('silent' as const) : own.pausedAt ? ('paused' as const) : ('on' as const),
    by,
    createdAt: own.createdAt.toISOString(),
    lastDeliveredAt: lastDeliveredAt?.toISOString() ?? null,
  }))
}

/**
 * Adds a webhook, with a secret that is shown this once.
 *
 * @param reach - what may lie on private addresses
 * @throws HttpProblem 422 for an address that may not be reached
 */
export async function createWebhook(
  database: Database,
  { siteId, personId }: By,
  { address, kinds }: WebhookInput,
  reach: Reach,
): Promise<NewWebhookView> {
  await refuseAddress(address, reach)
  const secret = newSecret()
  const id = await database.transaction(async (tx) => {
    if ((await tx.$count(webhook, eq(webhook.siteId, siteId))) >= MOST_WEBHOOKS)
      throw new HttpProblem(422, `A site has at most ${MOST_WEBHOOKS} webhooks. Delete one first.`)
    const [made] = await tx
      .insert(webhook)
      .values({ siteId, address, kinds, secret, createdBy: personId })
      .returning({ id: webhook.id })
    await noteChange(tx, { siteId, personId }, made!.id, 'added', { address, kinds })
    return made!.id
  })
  return { ...(await viewOf(database, siteId, id)), secret }
}

/** Changes a webhook. Resumed, it is sent what happens from then on; what was given up can be replayed. */
export async function changeWebhook(
  database: Database,
  { siteId, webhookId, personId }: WebhookPlace & By,
  { address, kinds, isOn }: WebhookChange,
  reach: Reach,
  now: Date,
): Promise<WebhookView[]> {
  await refuseAddress(address, reach)
  await database.transaction(async (tx) => {
    const before = await findWebhook(tx, { siteId, webhookId })
    await tx
      .update(webhook)
      .set({
        address,
        kinds,
        pausedAt: isOn ? null : (before.pausedAt ?? now),
        gaveUpAt: isOn ? null : before.gaveUpAt,
      })
      .where(and(eq(webhook.siteId, siteId), eq(webhook.id, webhookId)))
    await noteChange(tx, { siteId, personId }, webhookId, 'changed', { address, kinds, isOn })
  })
  return listWebhooks(database, siteId)
}

export async function deleteWebhook(
  database: Database,
  { siteId, webhookId, personId }: WebhookPlace & By,
): Promise<void> {
  await database.transaction(async (tx) => {
    const { address } = await findWebhook(tx, { siteId, webhookId })
    await tx.delete(webhook).where(and(eq(webhook.siteId, siteId), eq(webhook.id, webhookId)))
    await noteChange(tx, { siteId, personId }, webhookId, 'deleted', { address })
  })
}

/** Signs with another secret from now on, which is shown this once. */
export async function drawWebhookSecret(
  database: Database,
  { siteId, webhookId, personId }: WebhookPlace & By,
): Promise<NewWebhookView> {
  const secret = newSecret()
  await database.transaction(async (tx) => {
    await findWebhook(tx, { siteId, webhookId })
    await tx
      .update(webhook)
      .set({ secret })
      .where(and(eq(webhook.siteId, siteId), eq(webhook.id, webhookId)))
    await noteChange(tx, { siteId, personId }, webhookId, 'changed', { secret: 'drawn anew' })
  })
  return { ...(await viewOf(database, siteId, webhookId)), secret }
}

/** Sends a message that says nothing, to see that it arrives. */
export async function testWebhook(database: Database, { siteId, webhookId }: WebhookPlace, now: Date): Promise<void> {
  await findWebhook(database, { siteId, webhookId })
  const body = JSON.stringify({ kind: 'test', at: now.toISOString(), site: { id: siteId }, text: 'This is a test.' })
  await database
    .insert(webhookDelivery)
    .values({ siteId, webhookId, kind: 'test', body, createdAt: now, nextTryAt: now })
}

const newSecret = () => randomBytes(32).toString('base64url')

async function viewOf(database: Queries, siteId: number, id: number): Promise<WebhookView> {
  return (await listWebhooks(database, siteId)).find((each) => each.id === id)!
}

async function refuseAddress(address: string, reach: Reach): Promise<void> {
  try {
    await refuseUnreachable(new URL(address), reach)
  } catch (error) {
    if (!(error instanceof HttpProblem)) throw error
    throw new HttpProblem(422, error.message, { address: error.message })
  }
}

/** The log says what was done, and not the secret. */
async function noteChange(
  tx: Queries,
  { siteId, personId }: By,
  webhookId: number,
  action: string,
  after: Record<string, unknown>,
): Promise<void> {
  await recordChange(tx, { siteId, personId, subject: 'webhook', subjectId: webhookId, action, after })
}
