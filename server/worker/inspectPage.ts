import { parentPort, workerData } from 'node:worker_threads'
import { countElements } from '../services/sites/countElements'
import type { PageTask } from '../services/sites/inspectInThread'
import { inspectInstallation } from '../services/sites/inspectInstallation'

/** A thread that reads one page and ends. */
const task = workerData as PageTask
parentPort!.postMessage(
  task.look === 'installation' ? inspectInstallation(task.page) : countElements(task.html, task.selectors),
)
