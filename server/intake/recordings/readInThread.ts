import { Tinypool } from 'tinypool'
import { Overloaded } from '../groupCommit'
import type { ChunkReading } from './readChunk'

/** A chunk as browsers make them is read in a few milliseconds. */
const LONGEST = 2000
const MOST_WAITING = 64
const MOST_MEGABYTES = 128

/**
 * Reads chunks in a thread of their own, one after the other: however much it costs to read one, the process goes on
 * answering. One that takes too long, or too much memory, ends its thread, and the next one gets another.
 *
 * @param file - the thread, as it was built
 * @returns reads one; throws Overloaded when many wait already, or when reading was given up
 */
export function chunkReader(file: string): (body: Buffer) => Promise<ChunkReading> {
  const pool = new Tinypool({
    filename: file,
    runtime: 'worker_threads',
    minThreads: 1,
    maxThreads: 1,
    maxQueue: MOST_WAITING,
    resourceLimits: { maxOldGenerationSizeMb: MOST_MEGABYTES },
  })
  // Of a thread that breaks while it has nothing to do.
  pool.on('error', (error) => console.error(error))
  let waiting = 0
  return async (body) => {
    if (waiting >= MOST_WAITING) throw new Overloaded()
    waiting++
    try {
      // The time of a chunk begins when its turn has come, which is when those before it are read.
      const signal = AbortSignal.timeout(LONGEST * waiting)
      return (await pool.run(new Uint8Array(body), { signal })) as ChunkReading
    } catch (error) {
      if (isOfChunk(error))
        return { problem: { status: 413, message: 'The chunk of a recording takes too long to read.' } }
      // A fault of ours: the browser keeps the chunk and sends it again.
      console.error(error)
      throw new Overloaded()
    } finally {
      waiting--
    }
  }
}

/** Whether reading ended because of the chunk: it took too long, or too much memory. */
function isOfChunk(error: unknown): boolean {
  if (!(error instanceof Error)) return false
  return error.name === 'AbortError' || (error as NodeJS.ErrnoException).code === 'ERR_WORKER_OUT_OF_MEMORY'
}
