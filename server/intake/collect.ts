import { ValidationError } from 'yup'
import {
  collectedBatchSchema,
  collectedEventSchema,
  LARGEST_BATCH,
  type CollectedEvent,
  type CollectReply,
} from '../../shared/collect'
import { hasPartition } from '../database/partitions'
import { correctTime } from './correctTime'
import type { EventRow } from './eventRow'

/** NUL and unpaired surrogates, which JSON may carry and a database text may not. */
const UNSTORABLE = /\\u(?:0000|d[89a-f][0-9a-f]{2})/i

/** What intake needs to know about the site that a batch names. */
export interface IntakeSite {
  id: number
  address: string
  /** Number of variants by experiment. */
  variants: ReadonlyMap<number, number>
  /** Whether any visitor has reported before. */
  hasReported: boolean
}

/** A batch that is not taken at all, with the HTTP status that says so. */
export class RefusedBatch extends Error {
  constructor(
    readonly status: 400 | 403 | 404 | 413,
    message: string,
  ) {
    super(message)
  }
}

export interface IncomingRequest {
  body: string
  /** The `Origin` header, if any. */
  origin: string | null
  receivedAt: Date
}

/**
 * Takes a batch of events: checks it, corrects times, and writes what can be taken.
 *
 * @param findSite - finds the site of a key
 * @param write - writes rows and returns after the commit
 * @throws RefusedBatch when nothing of it can be taken
 */
export async function collect(
  request: IncomingRequest,
  findSite: (key: string) => Promise<IntakeSite | null>,
  write: (rows: EventRow[]) => Promise<void>,
): Promise<{ site: IntakeSite; reply: CollectReply }> {
  if (Buffer.byteLength(request.body) > LARGEST_BATCH)
    throw new RefusedBatch(413, `A batch holds at most ${LARGEST_BATCH} bytes.`)
  const batch = parseBatch(request.body)
  const site = await findSite(batch.key)
  if (!site) throw new RefusedBatch(404, 'No site has this key.')
  if (!isOwnOrigin(request.origin, site.address))
    throw new RefusedBatch(403, 'Events of this site are taken from its own pages only.')

  const reply: CollectReply = { accepted: 0, refused: [] }
  const rows: EventRow[] = []
  for (const incoming of batch.events) {
    const row = eventRow(incoming, batch, site, request.receivedAt)
    if (typeof row === 'string') reply.refused.push({ id: idOf(incoming), why: row })
    else rows.push(row)
  }
  if (rows.length > 0) await write(rows)
  return { site, reply: { ...reply, accepted: rows.length } }
}

function parseBatch(body: string) {
  try {
    return collectedBatchSchema.validateSync(JSON.parse(body), { strict: true })
  } catch (error) {
    const why = error instanceof ValidationError ? error.message : 'it is not JSON'
    throw new RefusedBatch(400, `The batch cannot be read: ${why}.`)
  }
}

function eventRow(
  incoming: unknown,
  batch: { visitor: string; session: string; sent: number },
  site: IntakeSite,
  receivedAt: Date,
): EventRow | string {
  let event: CollectedEvent
  try {
    event = collectedEventSchema.validateSync(incoming, { strict: true }) as CollectedEvent
  } catch (error) {
    return error instanceof Error ? error.message : 'it cannot be read'
  }
  if (UNSTORABLE.test(JSON.stringify(incoming))) return 'it holds characters that cannot be stored'
  if (!isOwnAddress(event.address, site.address)) return 'address is not one of the site’s'
  if (event.type === 'exposure') {
    const variants = site.variants.get(event.experiment ?? 0)
    if (variants === undefined) return 'experiment is not one of the site’s'
    if (event.variant === undefined || event.variant >= variants) return 'variant is not one of the experiment’s'
  }
  const time = correctTime(event.at, batch.sent, receivedAt.getTime())
  if (!time) return 'at is more than seven days ago'
  return {
    siteId: site.id,
    visitorId: batch.visitor,
    id: event.id,
    madeAt: hasPartition(time.madeAt, receivedAt) ? time.madeAt : new Date(0),
    type: event.type,
    occurredAt: time.occurredAt,
    receivedAt,
    sessionId: batch.session,
    address: event.address,
    experimentId: event.type === 'exposure' ? event.experiment! : null,
    variant: event.type === 'exposure' ? event.variant! : null,
    selectors: event.selectors ?? null,
    name: event.name ?? null,
    amount: event.amount ?? null,
    currency: event.currency ?? null,
    properties: event.properties ?? null,
  }
}

function idOf(incoming: unknown): string | null {
  return incoming && typeof incoming === 'object' && 'id' in incoming && typeof incoming.id === 'string'
    ? incoming.id.slice(0, 64)
    : null
}

/** Whether an origin is the site's own or one of its subdomains', on the same port. */
export function isOwnOrigin(origin: string | null, address: string): boolean {
  if (!origin || !URL.canParse(origin)) return false
  return isSameSite(new URL(origin), new URL(address))
}

function isOwnAddress(page: string, address: string): boolean {
  return URL.canParse(page) && isSameSite(new URL(page), new URL(address))
}

function isSameSite(one: URL, other: URL): boolean {
  const parent = other.hostname.replace(/^www\./, '')
  return one.port === other.port && (one.hostname === parent || one.hostname.endsWith(`.${parent}`))
}
