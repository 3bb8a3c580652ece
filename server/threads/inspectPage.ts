import { countElements } from '../services/sites/countElements'
import type { PageTask } from '../services/sites/inspectInThread'
import { inspectInstallation } from '../services/sites/inspectInstallation'
import { linkedPaths } from '../services/sites/linkedPaths'

/** A thread that reads pages. */
export default function inspect(task: PageTask) {
  if (task.look === 'elements') return countElements(task.html, task.selectors)
  return { findings: inspectInstallation(task.page), links: linkedPaths(task.page.html, task.page.address) }
}
