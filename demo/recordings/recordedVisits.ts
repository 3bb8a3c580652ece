import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { gunzipSync, gzipSync } from 'node:zlib'
import { timeOfId, timeOrderedId } from '../../core/identity/timeOrderedId'
import { eventRow, viewRow, type IntakeSite } from '../../server/intake/collect'
import { hashNetwork } from '../../server/intake/hashNetwork'
import type { FindPlace } from '../../server/intake/place'
import type { ChunkRow } from '../../server/intake/recordings/takeChunk'
import type { Arrival } from '../../server/intake/writeArrivals'
import type { CollectedEvent, CollectedView } from '../../shared/intake/collect'
import type { RecordedChunk } from '../../shared/intake/record'
import { MADE_UP_NETWORKS } from '../../stand-ins/place/networks'
import { HOUR } from '../../core/time/units'

/** Where the visits are kept that were recorded on the demo site; `recordVisits.ts` makes them anew. */
export const RECORDED_VISITS = fileURLToPath(new URL('./visits.json.gz', import.meta.url))

/** What the pages of one visit have sent. */
export interface RecordedVisit {
  userAgent: string
  country: string
  views: CollectedView[]
  events: CollectedEvent[]
  chunks: RecordedChunk[]
}

/** A visit every few hours, the latest a few hours ago. */
const EVERY = 5 * HOUR

/** The recorded visits as if they had come in the last days, as intake would have taken them then. */
export function recordedArrivals(
  intake: IntakeSite,
  findPlace: FindPlace,
  until: Date,
  survey: number | null,
): { arrivals: Arrival[]; chunks: ChunkRow[] } {
  const file = JSON.parse(gunzipSync(readFileSync(RECORDED_VISITS)).toString('utf8')) as {
    origin: string
    visits: RecordedVisit[]
  }
  const arrivals: Arrival[] = []
  const chunks: ChunkRow[] = []
  file.visits.forEach((visit, index) => {
    const began = Math.min(...visit.views.map(({ id }) => timeOfId(id)))
    const moved = moveVisit(visit, {
      by: until.getTime() - 2 * HOUR - index * EVERY - began,
      from: file.origin,
      to: intake.address,
    })
    arrivals.push(arrivalOf(ofSurvey(moved, survey), intake, findPlace))
    chunks.push(...moved.chunks.map((chunk) => chunkRow(chunk, intake.id)))
  })
  return { arrivals, chunks }
}

/** The survey of the demo has a number of its own. */
function ofSurvey({ events, ...visit }: RecordedVisit, survey: number | null): RecordedVisit {
  return {
    ...visit,
    events: events.flatMap((event): CollectedEvent[] => {
      const { properties } = event
      if (!properties || !('survey' in properties)) return [event]
      return survey === null ? [] : [{ ...event, properties: { ...properties, survey } }]
    }),
  }
}

/** A visit at another time and on another origin: ids carry their time, and events of the recorder theirs. */
function moveVisit(visit: RecordedVisit, { by, from, to }: { by: number; from: string; to: string }): RecordedVisit {
  const text = JSON.stringify(visit)
    .replaceAll(from, to)
    .replaceAll(`//${new URL(from).host}`, `//${new URL(to).host}`)
    .replace(
      /"([0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[0-9a-f]{4}-[0-9a-f]{12})"/g,
      (_, id: string) => `"${movedId(id, by)}"`,
    )
  const moved = JSON.parse(text) as RecordedVisit
  for (const chunk of moved.chunks) {
    chunk.first += by
    chunk.last += by
    for (const event of chunk.events) event.timestamp += by
  }
  return moved
}

function movedId(id: string, by: number): string {
  const bytes = Uint8Array.from(id.replace(/-/g, '').slice(16).match(/../g)!, (pair) => parseInt(pair, 16))
  return timeOrderedId(timeOfId(id) + by, parseInt(id.slice(15, 18), 16), bytes)
}

function arrivalOf(
  { views, events, userAgent, country }: RecordedVisit,
  intake: IntakeSite,
  findPlace: FindPlace,
): Arrival {
  const network = MADE_UP_NETWORKS.find((each) => each.country === country)!.network
  const address = network.replace(/\d+\/\d+$/, '17')
  const arrival: Arrival = { views: [], events: [] }
  for (const view of views) {
    const at = timeOfId(view.id)
    const row = viewRow(view, { address, userAgent, receivedAt: new Date(at) }, intake, at, findPlace)
    if (typeof row === 'string') throw new Error(`A recorded page view would be refused: ${row}`)
    row.network = hashNetwork('demo', address, new Date(at))
    arrival.views.push(row)
    // Experiments of the demo were none of this site's.
    const own = events.filter((event) => event.view === view.id && event.type !== 'exposure')
    arrival.events.push(...own.map((event) => eventRow(event, row, intake)))
  }
  return arrival
}

function chunkRow(chunk: RecordedChunk, siteId: number): ChunkRow {
  const events = Buffer.from(JSON.stringify(chunk.events))
  return {
    siteId,
    visitorId: chunk.visitor,
    sessionId: chunk.session,
    id: chunk.id,
    viewId: chunk.view,

    number: chunk.number,
    first: new Date(chunk.first),
    last: new Date(chunk.last),
    receivedAt: new Date(chunk.last),
    // Each made by somebody else.
    network: `demo-${chunk.visitor}`.slice(0, 16),
    content: gzipSync(events),
    unpacked: events.length,
  }
}
