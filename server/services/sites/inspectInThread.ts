import { Worker } from 'node:worker_threads'
import type { InstallationFinding } from '../../../shared/site'
import { HttpProblem } from '../HttpProblem'
import type { CountedPage } from './countElements'
import type { InspectedPage } from './inspectInstallation'

const MOST_MILLISECONDS = 5000
const MOST_MEGABYTES = 128

/** What is looked for on a page. */
export type PageTask =
  { look: 'installation'; page: InspectedPage } | { look: 'elements'; html: string; selectors: readonly string[] }
type FoundOf<Task extends PageTask> = Task['look'] extends 'installation' ? InstallationFinding[] : CountedPage

/**
 * Inspects a page in a thread of its own, which is ended when it takes too long or too much: a hostile page holds up
 * nobody.
 *
 * @param file - the thread, as it was built
 * @throws HttpProblem 422 for a page that cannot be read in time
 */
export function inspectInThread<Task extends PageTask>(
  file: string,
  task: Task,
  most = MOST_MILLISECONDS,
): Promise<FoundOf<Task>> {
  const thread = new Worker(file, {
    workerData: task,
    resourceLimits: { maxOldGenerationSizeMb: MOST_MEGABYTES },
  })
  return new Promise<FoundOf<Task>>((resolve, reject) => {
    const giveUp = () =>
      reject(new HttpProblem(422, 'The page cannot be read in a reasonable time. Check another page of the site.'))
    const timer = setTimeout(giveUp, most)
    thread.once('message', resolve)
    thread.once('error', (error) => {
      console.error(error)
      giveUp()
    })
    // One that ends without a word has given up as well; what was said before counts.
    thread.once('exit', () => {
      clearTimeout(timer)
      giveUp()
    })
  }).finally(() => void thread.terminate())
}
