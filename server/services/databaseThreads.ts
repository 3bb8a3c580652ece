import { Tinypool } from 'tinypool'

interface ThreadOptions {
  threads: number
  /** Of the heap of each. */
  megabytes?: number
}

/** The longest that a timer knows, in ms: one for ever would be taken for none at all. */
const FOR_GOOD = 2 ** 31 - 1

/**
 * Threads that ask the database by connections of their own. They stay, with what they have read; one that is ended is
 * replaced at the next question.
 *
 * @param file - the thread, as it was built; it finds `databaseUrl` in its `workerData`
 */
export function databaseThreads(file: string, databaseUrl: string, { threads, megabytes }: ThreadOptions): Tinypool {
  const pool = new Tinypool({
    filename: file,
    runtime: 'worker_threads',
    workerData: { databaseUrl },
    // A thread that waits in the other way hears nothing of its connections to the database.
    useAtomics: false,
    // One at least: with none, questions that wait for one that was ended would wait for ever.
    minThreads: 1,
    maxThreads: threads,
    idleTimeout: FOR_GOOD,
    ...(megabytes === undefined ? {} : { resourceLimits: { maxOldGenerationSizeMb: megabytes } }),
  })
  // Of a thread that breaks while it has nothing to do.
  pool.on('error', (error) => console.error(error))
  return pool
}
