import { Worker } from 'node:worker_threads'
import type { InstallationFinding } from '../../../shared/site'
import { HttpProblem } from '../HttpProblem'
import type { InspectedPage } from './inspectInstallation'

const MOST_MILLISECONDS = 5000
const MOST_MEGABYTES = 128

/**
 * Inspects a page in a thread of its own, which is ended when it takes too long or too much: a hostile page holds up
 * nobody.
 *
 * @param file - the thread, as it was built
 * @throws HttpProblem 422 for a page that cannot be read in time
 */
export function inspectInThread(
  file: string,
  page: InspectedPage,
  most = MOST_MILLISECONDS,
): Promise<InstallationFinding[]> {
  const thread = new Worker(file, {
    workerData: page,
    resourceLimits: { maxOldGenerationSizeMb: MOST_MEGABYTES },
  })
  return new Promise<InstallationFinding[]>((resolve, reject) => {
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
