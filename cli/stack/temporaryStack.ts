import type { ChildProcess } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { startCluster, type Cluster } from './cluster'
import { freePort } from './ports'
import { readSecrets } from './secrets'
import { startServer, startWorkerProcess } from './server'
import { openOutbox, type Outbox } from '../../stand-ins/outbox/outbox'
import { connect, type Database } from '../../server/database/connect'
import { migrate } from '../../server/database/migrate'

/** The built application, and perhaps the worker, on a database, with a post box. */
export interface Processes {
  url: string
  outbox: Outbox
  application: () => ChildProcess
  worker: () => ChildProcess
  startApplication: () => Promise<void>
  startWorker: () => void
  stop: () => void
}

/** A database cluster and the processes on it, in a folder that goes away with them. */
export interface TemporaryStack extends Omit<Processes, 'stop'> {
  cluster: Cluster
  database: Database
  stop: () => Promise<void>
}

export async function startTemporaryStack(
  demoOrigins: readonly string[] = [],
  hasWorker = true,
): Promise<TemporaryStack> {
  const { cluster, folder, remove } = await startTemporaryCluster()
  const database = connect(cluster.url, 4)
  await migrate(database)
  const processes = await startProcesses(cluster.url, folder, demoOrigins, hasWorker)
  return {
    ...processes,
    cluster,
    database,
    stop: async () => {
      processes.stop()
      await database.$client.end()
      remove()
    },
  }
}

/** A cluster in a folder of its own. */
export async function startTemporaryCluster(): Promise<{ cluster: Cluster; folder: string; remove: () => void }> {
  const folder = mkdtempSync(join(tmpdir(), 'vetch-temporary-'))
  const cluster = await startCluster(folder)
  return {
    cluster,
    folder,
    remove: () => {
      cluster.stop()
      rmSync(folder, { recursive: true, force: true })
      rmSync(join(cluster.folder, '..'), { recursive: true, force: true })
    },
  }
}

/** @param folder - where the secrets are */
export async function startProcesses(
  databaseUrl: string,
  folder: string,
  demoOrigins: readonly string[] = [],
  hasWorker = true,
): Promise<Processes> {
  const port = await freePort()
  const outbox = await openOutbox({ smtpPort: await freePort(), webPort: await freePort() })
  let application: ChildProcess
  let worker: ChildProcess | undefined
  const startApplication = async () => {
    const { sessionPassword } = readSecrets(folder)
    application = await startServer({
      port,
      databaseUrl,
      sessionPassword,
      demoOrigins,
      smtpUrl: outbox.smtpUrl,
      checksReplies: true,
    })
  }
  const startWorker = () => {
    worker = startWorkerProcess(databaseUrl, { demoOrigins, isQuiet: true })
  }
  if (hasWorker) startWorker()
  await startApplication()
  return {
    url: `http://127.0.0.1:${port}`,
    outbox,
    application: () => application,
    worker: () => worker!,
    startApplication,
    startWorker,
    stop: () => {
      application.kill('SIGKILL')
      worker?.kill('SIGKILL')
      void outbox.close()
    },
  }
}
