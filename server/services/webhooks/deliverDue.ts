import { and, eq, gt, isNotNull, isNull, sql } from 'drizzle-orm'
import { HOUR, MINUTE } from '../../../core/time/units'
import type { Database, Queries } from '../../database/connect'
import { site, webhook, webhookDelivery } from '../../database/schema'
import { HttpProblem } from '../HttpProblem'
import { tell } from '../notifications/tell'
import { fetchGuarded, type Wanted } from '../sites/fetchGuarded'
import { siteReach, type Reach } from '../sites/reach'
import { signatureOf } from './signature'

/** Pauses between tries: some 16 hours together. A message that none of them delivered is given up. */
const PAUSES = [10_000, 30_000, 2 * MINUTE, 10 * MINUTE, 30 * MINUTE, HOUR, 2 * HOUR, 4 * HOUR, 8 * HOUR]
const MOST_ANSWER = 64 * 1024
const KEPT_ANSWER = 500
/** The program wants nothing any more. */
const GONE = 410

/** Sends a message, and tells the answer. */
export type Post = (address: string, reach: Reach, message: Wanted) => Promise<{ status: number; body: Buffer }>

/** Nobody else tries a message again for so long, whatever happens to the process that tries it. */
const CLAIMED_FOR = MINUTE
const MOST_AT_ONCE = 20
/** Of one webhook, so that one which does not answer leaves room for the others. */
const MOST_OF_ONE = 2

/**
 * Sends what is due to webhooks. What is not taken is tried again after growing pauses, then given up; a webhook that has
 * taken nothing since then is sent nothing more, and its owners are told. No connection to the database is held while
 * strangers are waited for. `tests/integration/webhooks.test.ts` holds it.
 *
 * @param trusted - origins on private addresses that may be reached
 */
export async function deliverDue(
  database: Database,
  trusted: readonly string[],
  now: Date,
  post: Post = fetchGuarded,
): Promise<void> {
  const failures: unknown[] = []
  // What one program is like keeps no other from being told.
  const deliver = async (due: Due) => {
    const answer = await answerOf(due, await siteReach(database, due.siteId, trusted), now, post)
    await database.transaction((tx) => note(tx, due, answer, now))
  }
  const due = await claimDue(database, now)
  await Promise.all(due.map((each) => deliver(each).catch((error: unknown) => failures.push(error))))
  if (failures.length > 0) throw failures[0]
}

interface Due {
  id: number
  siteId: number
  webhookId: number
  kind: string
  body: string
  attempts: number
  createdAt: Date
  address: string
  secret: string
}

async function claimDue(database: Database, now: Date): Promise<Due[]> {
  const { rows } = await database.execute<Due & Record<string, unknown>>(sql`
    UPDATE webhook_delivery d SET next_try_at = ${new Date(now.getTime() + CLAIMED_FOR)}
    FROM webhook w
    WHERE w.site_id = d.site_id AND w.id = d.webhook_id AND d.id IN (
      SELECT e.id FROM webhook_delivery e JOIN (
        SELECT x.site_id, x.id, row_number() OVER (PARTITION BY x.webhook_id ORDER BY x.next_try_at, x.id) AS turn
        FROM webhook_delivery x JOIN webhook v ON v.site_id = x.site_id AND v.id = x.webhook_id
        WHERE x.next_try_at <= ${now} AND (v.paused_at IS NULL OR x.kind = 'test')
      ) t ON t.site_id = e.site_id AND t.id = e.id AND t.turn <= ${MOST_OF_ONE}
      WHERE e.next_try_at <= ${now}
      ORDER BY e.next_try_at LIMIT ${MOST_AT_ONCE} FOR UPDATE OF e SKIP LOCKED)
    RETURNING d.id, d.site_id AS "siteId", d.webhook_id AS "webhookId", d.kind, d.body, d.attempts,
      d.created_at AS "createdAt", w.address, w.secret`)
  return rows.map((row) => ({ ...row, createdAt: new Date(row.createdAt) }))
}

async function note(tx: Queries, due: Due, answer: Answer, now: Date): Promise<void> {
  const attempts = due.attempts + 1
  const isDelivered = answer.status !== null && answer.status >= 200 && answer.status < 300
  const pause = answer.status === GONE ? undefined : PAUSES[attempts - 1]
  // A test is tried once: whoever asked for it is looking.
  const isOver = isDelivered || due.kind === 'test' || pause === undefined
  await tx
    .update(webhookDelivery)
    .set({
      attempts,
      lastTriedAt: now,
      deliveredAt: isDelivered ? now : null,
      nextTryAt: isOver ? null : new Date(now.getTime() + pause),
      status: answer.status,
      answer: answer.text,
    })
    .where(and(eq(webhookDelivery.siteId, due.siteId), eq(webhookDelivery.id, due.id)))
  if (isOver && !isDelivered && due.kind !== 'test') await giveUp(tx, due, now)
}

interface Answer {
  status: number | null
  text: string
}

async function answerOf(
  { id, kind, body, address, secret }: Due,
  reach: Reach,
  now: Date,
  post: Post,
): Promise<Answer> {
  const seconds = Math.floor(now.getTime() / 1000)
  const headers = {
    'content-type': 'application/json',
    'vetch-kind': kind,
    'vetch-delivery': String(id),
    'vetch-time': String(seconds),
    'vetch-signature': signatureOf(secret, seconds, body),
  }
  try {
    const reply = await post(address, reach, {
      userAgent: 'Vetch',
      accept: '*/*',
      most: MOST_ANSWER,
      sends: { headers, body },
    })
    return { status: reply.status, text: storable(reply.body.toString('utf8')) }
  } catch (error) {
    if (error instanceof HttpProblem) return { status: null, text: storable(error.message) }
    throw error
  }
}

/** The beginning of what a stranger's program says, without what cannot be stored. */
function storable(text: string): string {
  return text
    .replace(/\u0000/g, '')
    .toWellFormed()
    .slice(0, KEPT_ANSWER)
}

/** Nothing more is sent to a webhook that took nothing since a message that was given up; its owners are told. */
async function giveUp(tx: Queries, { siteId, webhookId, address, createdAt }: Due, now: Date): Promise<void> {
  const ofIt = and(eq(webhookDelivery.siteId, siteId), eq(webhookDelivery.webhookId, webhookId))
  const taken = await tx
    .select({ id: webhookDelivery.id })
    .from(webhookDelivery)
    .where(and(ofIt, gt(webhookDelivery.deliveredAt, createdAt)))
    .limit(1)
  if (taken.length > 0) return
  const stopped = await tx
    .update(webhook)
    .set({ gaveUpAt: now })
    .where(and(eq(webhook.siteId, siteId), eq(webhook.id, webhookId), isNull(webhook.gaveUpAt)))
    .returning({ id: webhook.id })
  if (stopped.length === 0) return
  await tx
    .update(webhookDelivery)
    .set({ nextTryAt: null })
    .where(and(ofIt, isNotNull(webhookDelivery.nextTryAt)))
  const [own] = await tx.select({ name: site.name }).from(site).where(eq(site.id, siteId))
  await tell(tx, {
    siteId,
    experimentId: null,
    kind: 'webhook',
    title: own!.name,
    text: `${address} takes no messages any more, so none are sent to it. Resume it once it answers, and send again what it missed.`,
    path: '/setup/webhooks',
    at: now,
  })
}
