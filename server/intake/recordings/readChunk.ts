import { gunzipSync, gzipSync } from 'node:zlib'
import { ValidationError } from 'yup'
import { chunkSchema, DEEPEST_CHUNK, LARGEST_UNPACKED, type RecordedChunk } from '../../../shared/intake/record'
import { deepestNesting } from './deepestNesting'

/** A chunk as it was read: what it says of itself, and its events as they are kept. */
export interface ReadChunk {
  head: Omit<RecordedChunk, 'events'>
  /** Events as JSON, compressed. */
  content: Uint8Array
  /** Bytes of the events before they were compressed. */
  unpacked: number
}
export type ChunkReading = { read: ReadChunk } | { problem: { status: 400 | 413; message: string } }

/** Reads a chunk of a recording, compressed or plain. Runs in a thread: what strangers pack may cost much to unpack. */
export function readChunk(body: Uint8Array): ChunkReading {
  try {
    const isPacked = body[0] === 0x1f && body[1] === 0x8b
    const plain = isPacked ? gunzipSync(body, { maxOutputLength: LARGEST_UNPACKED }) : Buffer.from(body)
    if (deepestNesting(plain) > DEEPEST_CHUNK) return problem(413, 'The chunk of a recording is nested too deep.')
    const { events, ...head } = chunkSchema.validateSync(JSON.parse(plain.toString('utf8')), { strict: true })
    const text = Buffer.from(JSON.stringify(events))
    return { read: { head, content: gzipSync(text), unpacked: text.length } }
  } catch (error) {
    if (error instanceof RangeError) return problem(413, 'The chunk of a recording is too large unpacked.')
    const why = error instanceof ValidationError ? error.message : 'it was cut off, or is not JSON'
    return problem(400, `The chunk of a recording cannot be read: ${why}.`)
  }
}

function problem(status: 400 | 413, message: string): ChunkReading {
  return { problem: { status, message } }
}
