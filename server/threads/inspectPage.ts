import { countElements } from '../services/sites/countElements'
import type { PageTask } from '../services/sites/inspectInThread'
import { inspectInstallation } from '../services/sites/inspectInstallation'

/** A thread that reads pages. */
export default function inspect(task: PageTask) {
  return task.look === 'installation' ? inspectInstallation(task.page) : countElements(task.html, task.selectors)
}
