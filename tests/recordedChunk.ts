import { gzipSync } from 'node:zlib'
import { timeOrderedId } from '../core/identity/timeOrderedId'
import type { ChunkRow } from '../server/intake/recordings/takeChunk'

/** A chunk of a recording as intake would write it. */
export function recordedChunk(
  siteId: number,
  visitorId: string,
  sessionId: string,
  at: number,
  events: readonly object[],
): ChunkRow {
  const text = Buffer.from(JSON.stringify(events))
  return {
    siteId,
    visitorId,
    sessionId,
    number: 0,
    id: timeOrderedId(at, 0, new Uint8Array(8)),
    viewId: timeOrderedId(at, 1, new Uint8Array(8)),
    first: new Date(at),
    last: new Date(at + 2000),
    receivedAt: new Date(at + 2000),
    network: 'network',
    content: gzipSync(text),
    unpacked: text.length,
  }
}
