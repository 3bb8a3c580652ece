import { gunzip, gzip } from 'node:zlib'
import { promisify } from 'node:util'
import { ValidationError } from 'yup'
import { isInTest } from '../../core/assignment/assignment'
import { timeOfId } from '../../core/identity/timeOrderedId'
import { OLDEST_EVENT } from '../../shared/intake/collect'
import { chunkSchema, LARGEST_CHUNK, LARGEST_UNPACKED, type RecordedChunk } from '../../shared/intake/record'
import { RECORDING_SALT } from '../../shared/delivery/siteFile'
import { isOwnOrigin, RefusedBatch, type IntakeSite } from './collect'
import type { TrafficLimits } from './trafficLimits'
import { readUserAgent } from './userAgent'

const unpack = promisify(gunzip)
const pack = promisify(gzip)
/** A chunk costs as much as so many events. */
const COST = 20

export interface ChunkRequest {
  body: Buffer
  origin: string | null
  userAgent: string
  receivedAt: Date
}

/** A chunk as it is kept. */
export interface ChunkRow {
  siteId: number
  visitorId: string
  sessionId: string
  id: string
  viewId: string
  number: number
  first: Date
  last: Date
  content: Buffer
}

export interface ChunkPorts {
  findSite: (key: string) => Promise<IntakeSite | null>
  limits: Pick<TrafficLimits, 'mayReport'>
  /** Returns after the commit. */
  write: (chunk: ChunkRow) => Promise<'kept' | 'known' | 'full'>
}

/**
 * Takes a chunk of a recording.
 *
 * @returns whether it is kept now; robots are recorded by nobody
 * @throws RefusedBatch when it cannot be taken
 */
export async function takeChunk(
  request: ChunkRequest,
  ports: ChunkPorts,
): Promise<{ site: IntakeSite; isKept: boolean }> {
  if (request.body.length > LARGEST_CHUNK)
    throw new RefusedBatch(413, `A chunk of a recording holds at most ${LARGEST_CHUNK} bytes.`)
  const { chunk, text } = await readChunk(request.body)
  const site = await ports.findSite(chunk.key)
  if (!site) throw new RefusedBatch(404, 'No site has this key.')
  const refuse = (why: string) => new RefusedBatch(403, why, site.id)
  if (!isOwnOrigin(request.origin, site)) throw refuse('Recordings of this site are taken from its own pages only.')
  if (!isInTest(chunk.visitor, { salt: RECORDING_SALT, share: site.recordingShare }))
    throw refuse('This visitor is not among those that the site records.')
  if (request.receivedAt.getTime() - timeOfId(chunk.id) > OLDEST_EVENT)
    throw refuse('The chunk of a recording is too old.')
  if (readUserAgent(request.userAgent).isRobot) return { site, isKept: false }
  if (!ports.limits.mayReport(`${site.id} ${chunk.visitor}`, COST, request.receivedAt.getTime()))
    throw new RefusedBatch(429, 'Too much comes at once. Send the chunk again later.', site.id)

  const outcome = await ports.write({
    siteId: site.id,
    visitorId: chunk.visitor,
    sessionId: chunk.session,
    id: chunk.id,
    viewId: chunk.view,

    number: chunk.number,
    first: new Date(chunk.first),
    last: new Date(chunk.last),
    content: await pack(text),
  })
  if (outcome === 'full') throw refuse('The recording of this session is as large as it may be.')
  return { site, isKept: true }
}

/** What a chunk says, and its events as text. */
async function readChunk(body: Buffer): Promise<{ chunk: RecordedChunk; text: string }> {
  try {
    const isPacked = body[0] === 0x1f && body[1] === 0x8b
    const plain = isPacked ? await unpack(body, { maxOutputLength: LARGEST_UNPACKED }) : body
    const read = JSON.parse(plain.toString('utf8')) as { events?: unknown }
    const chunk = chunkSchema.validateSync(read, { strict: true })
    return { chunk, text: JSON.stringify(read.events) }
  } catch (error) {
    const isTooLarge = error instanceof RangeError
    const why = error instanceof ValidationError ? error.message : 'it was cut off, or is not JSON'
    throw new RefusedBatch(
      isTooLarge ? 413 : 400,
      isTooLarge
        ? 'The chunk of a recording is too large unpacked.'
        : `The chunk of a recording cannot be read: ${why}.`,
    )
  }
}
