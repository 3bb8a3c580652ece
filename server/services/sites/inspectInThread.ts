import { Tinypool } from 'tinypool'
import { HttpProblem } from '../HttpProblem'
import type { CountedPage } from './countElements'
import type { InspectedPage, LookedAtPage } from './inspectInstallation'

const MOST_MILLISECONDS = 5000
const MOST_MEGABYTES = 128
const MOST_THREADS = 4

/** What is looked for on a page. */
export type PageTask =
  { look: 'installation'; page: InspectedPage } | { look: 'elements'; html: string; selectors: readonly string[] }
interface Found {
  installation: LookedAtPage
  elements: CountedPage
}
type FoundOf<Task extends PageTask> = Found[Task['look']]

/** Threads by the files that they were built as. */
const pools = new Map<string, Tinypool>()

function poolOf(file: string): Tinypool {
  const known = pools.get(file)
  if (known) return known
  const pool = new Tinypool({
    filename: file,
    runtime: 'worker_threads',
    minThreads: 1,
    maxThreads: MOST_THREADS,
    resourceLimits: { maxOldGenerationSizeMb: MOST_MEGABYTES },
  })
  // Of a thread that breaks while it has nothing to do.
  pool.on('error', (error) => console.error(error))
  pools.set(file, pool)
  return pool
}

/**
 * Inspects a page in a thread beside, which is ended when it takes too long or too much: a hostile page holds up
 * nobody.
 *
 * @param file - the thread, as it was built
 * @throws HttpProblem 422 for a page that cannot be read in time
 */
export async function inspectInThread<Task extends PageTask>(
  file: string,
  task: Task,
  most = MOST_MILLISECONDS,
): Promise<FoundOf<Task>> {
  try {
    return (await poolOf(file).run(task, { signal: AbortSignal.timeout(most) })) as FoundOf<Task>
  } catch (error) {
    console.error(error)
    throw new HttpProblem(422, 'The page cannot be read in a reasonable time. Check another page of the site.')
  }
}
