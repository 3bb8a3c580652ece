import { promisify } from 'node:util'
import { gunzip } from 'node:zlib'

const unpack = promisify(gunzip)
/** What was taken before chunks were bounded may be as large as this; nothing that is larger is read. */
const LARGEST = 8 * 1024 * 1024

/** The events of a chunk as JSON. */
export function unpacked(content: Uint8Array): Promise<Buffer> {
  return unpack(content, { maxOutputLength: LARGEST })
}
