import { database } from '../../database/database'
import { isDatabaseAway } from '../../database/isDatabaseAway'
import { threadFile } from '../../http/deliveryFile'
import { forgetRecordingsOf } from '../../services/recordings/forgetRecordings'
import { intakePorts } from '../ports'
import { keepWithinSize } from './keepWithinSize'
import { chunkReader } from './readInThread'
import type { ChunkPorts } from './takeChunk'
import { writeChunk } from './writeChunk'

let own: Pick<ChunkPorts, 'read' | 'write'> | undefined

/** What recordings are taken with in this process: opened at the first chunk. */
export async function recordingPorts(): Promise<ChunkPorts> {
  own ??= open()
  return { ...(await intakePorts()), ...own }
}

function open(): Pick<ChunkPorts, 'read' | 'write'> {
  const noteKept = keepWithinSize((siteId) => forgetRecordingsOf(database(), siteId, new Date()), isDatabaseAway)
  return {
    read: chunkReader(threadFile('recordedChunk')),
    async write(chunk) {
      const outcome = await writeChunk(database().$client, chunk)
      if (outcome === 'kept') noteKept(chunk.siteId)
      return outcome
    },
  }
}
