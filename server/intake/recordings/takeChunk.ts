import { isInTest } from '../../../core/assignment/assignment'
import { timeOfId } from '../../../core/identity/timeOrderedId'
import { SITE_KEY } from '../../../shared/intake/browserIds'
import { OLDEST_EVENT } from '../../../shared/intake/collect'
import { LARGEST_CHUNK } from '../../../shared/intake/record'
import { RECORDING_SALT } from '../../../shared/delivery/siteFile'
import { isOwnOrigin, RefusedBatch, type CollectPorts, type IntakeSite } from '../collect'
import { readUserAgent } from '../userAgent'
import type { ChunkReading } from './readChunk'

/** A chunk costs as much as so many events. */
const COST = 20
/** What a network is charged for what cannot be read, in bytes. */
const COST_OF_UNREADABLE = 256 * 1024
/** How long a chunk waits for the page view that it is of, in ms. */
const LONGEST_WITHOUT_VIEW = 10 * 60_000
const TOO_MUCH = 'Too much comes at once. Send the chunk again later.'

export interface ChunkRequest {
  /** Key of the site, from the address. */
  key: string
  /** Bytes of the body, as its request announces them. */
  announced: number
  /** Reads the body; nothing of it is read before. */
  body: () => Promise<Buffer>
  /** Address that the request came from. */
  address: string
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
  receivedAt: Date
  /** Hash of the day of the network that it came from. */
  network: string
  content: Uint8Array
  /** Bytes of the content before it was compressed. */
  unpacked: number
}

export type ChunkOutcome = 'kept' | 'known' | 'full' | 'early' | 'crowded'

export interface ChunkPorts extends Pick<CollectPorts, 'findSite' | 'limits' | 'hashNetwork'> {
  /** Reads what was sent, beside everything else that the process does. */
  read: (body: Buffer) => Promise<ChunkReading>
  /** Returns after the commit. */
  write: (chunk: ChunkRow) => Promise<ChunkOutcome>
}

/**
 * Takes a chunk of a recording. Whose it is, where it comes from and how much came from there is asked before a byte of
 * it is read.
 *
 * @returns whether it is kept now; robots are recorded by nobody
 * @throws RefusedBatch when it cannot be taken
 */
export async function takeChunk(
  request: ChunkRequest,
  ports: ChunkPorts,
): Promise<{ site: IntakeSite; isKept: boolean }> {
  const site = SITE_KEY.test(request.key) ? await ports.findSite(request.key) : null
  if (!site) throw new RefusedBatch(404, 'No site has this key.')
  const refuse = (why: string) => new RefusedBatch(403, why, site.id)
  const wait = (why: string) => new RefusedBatch(429, why, site.id)
  if (!isOwnOrigin(request.origin, site)) throw refuse('Recordings of this site are taken from its own pages only.')
  if (site.recordingShare === 0) throw refuse('This site records nobody.')
  const now = request.receivedAt.getTime()
  const network = ports.hashNetwork(request.address, request.receivedAt)
  if (!ports.limits.maySend(network, request.announced, now)) throw wait(TOO_MUCH)
  if (readUserAgent(request.userAgent).isRobot) return { site, isKept: false }

  const body = await request.body()
  if (body.length > LARGEST_CHUNK)
    throw new RefusedBatch(413, `A chunk of a recording holds at most ${LARGEST_CHUNK} bytes.`)
  const reading = await ports.read(body)
  if ('problem' in reading) {
    // Whatever cannot be read has cost as much as can be.
    ports.limits.noteCost(network, COST_OF_UNREADABLE, now)
    throw new RefusedBatch(reading.problem.status, reading.problem.message)
  }
  const { head: chunk, content, unpacked } = reading.read
  ports.limits.noteCost(network, unpacked / 8, now)
  if (chunk.key !== request.key) throw new RefusedBatch(400, 'The chunk is of another site than its address.')
  if (!isInTest(chunk.visitor, { salt: RECORDING_SALT, share: site.recordingShare }))
    throw refuse('This visitor is not among those that the site records.')
  if (now - timeOfId(chunk.id) > OLDEST_EVENT) throw refuse('The chunk of a recording is too old.')
  if (!ports.limits.mayReport(`${site.id} ${chunk.visitor}`, COST, now)) throw wait(TOO_MUCH)

  const outcome = await ports.write({
    siteId: site.id,
    visitorId: chunk.visitor,
    sessionId: chunk.session,
    id: chunk.id,
    viewId: chunk.view,
    number: chunk.number,
    first: new Date(chunk.first),
    last: new Date(chunk.last),
    receivedAt: request.receivedAt,
    network,
    content,
    unpacked,
  })
  if (outcome === 'full') throw refuse('The recording of this session is as large as it may be.')
  if (outcome === 'crowded') throw refuse('As much as may be was recorded from this network today.')
  // Browsers tell of the view first; where it is not taken its recording is none either.
  if (outcome === 'early') {
    if (now - timeOfId(chunk.id) > LONGEST_WITHOUT_VIEW) throw refuse('No page view of the recording is known.')
    throw wait('No page view of the recording is known yet. Send the chunk again later.')
  }
  return { site, isKept: true }
}
