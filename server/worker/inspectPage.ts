import { parentPort, workerData } from 'node:worker_threads'
import { inspectInstallation, type InspectedPage } from '../services/sites/inspectInstallation'

/** A thread that reads one page and ends. */
parentPort!.postMessage(inspectInstallation(workerData as InspectedPage))
